import { UserError } from '@muted-pond/core/errors';
import { FILE_KIND_IDS, type FileKindId, fileKind } from '@muted-pond/core/files';
import type { WeighChange } from '@muted-pond/core/recipe';

/** Kinds that a quality can be told to. */
const TOLD: readonly string[] = FILE_KIND_IDS.filter((id) => fileKind(id).quality);

/** Each as KIND=WHAT. @throws UserError in one line for what says nothing. */
export function readQualities(texts: readonly string[]): WeighChange {
  return Object.assign({}, ...texts.map(readQuality));
}

function readQuality(text: string): WeighChange {
  const at = text.indexOf('=');
  const kind = text.slice(0, Math.max(0, at));
  const quality = TOLD.includes(kind) ? fileKind(kind as FileKindId).quality : null;
  if (!quality) {
    throw new UserError(
      'bad_flag',
      `--quality-of ${text}: give KIND=QUALITY, with one of ${TOLD.join(', ')}.`,
    );
  }
  const settings = quality.read(text.slice(at + 1));
  if (settings) return { [kind]: settings };
  throw new UserError('bad_flag', `--quality-of ${text}: ${kind} takes ${quality.words}.`);
}
