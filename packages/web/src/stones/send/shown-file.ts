import { type FileKindId, fileKind } from '@muted-pond/core/files';
import type { KindFile } from './kind-files.js';
import type { PageChoice } from './use-snippet.js';

/** Kinds in the order in which a browser of today takes them from a page. */
const TAKEN: Readonly<Record<'image' | 'picture', readonly FileKindId[]>> = {
  picture: ['avif', 'webp', 'gif', 'apng'],
  image: ['gif', 'webp', 'apng', 'avif'],
};

/** The file that a browser of today takes from the page; null where there is none. */
export function shownFile({ way, sent }: Pick<PageChoice, 'way' | 'sent'>): KindFile | null {
  if (!way) return null;
  if (way === 'video') {
    const movies = sent.filter(({ kind }) => fileKind(kind).shownAs === 'movie');
    return [...movies].sort((one, other) => one.figures.bytes - other.figures.bytes)[0] ?? null;
  }
  const kind = TAKEN[way].find((one) => sent.some((file) => file.kind === one));
  return sent.find((file) => file.kind === kind) ?? null;
}
