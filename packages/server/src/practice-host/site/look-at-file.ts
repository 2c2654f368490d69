import { readFile, stat } from 'node:fs/promises';
import { UserError } from '@muted-pond/core/errors';
import { FILE_KINDS, type FileKindId } from '@muted-pond/core/files';
import type { LimitedFile } from '@muted-pond/core/recipe';
import { inspectFile } from '../../inspection/index.js';
import { factsOfMovie, frameTimes, type MediaFacts } from '../../media/index.js';

/** What the host found out about a file by itself. */
export interface LookedAt extends LimitedFile {
  readonly kind: FileKindId;
  readonly mime: string;
}

/**
 * Looks at a file that was sent: its content says what it is, whatever its name.
 * @throws UserError for what is no kind of file that a page can show.
 */
export async function lookAtFile(path: string): Promise<LookedAt> {
  const { size: bytes } = await stat(path);
  const facts = await inspectFile(path, 'the file');
  const kind = kindOf(facts);
  if (!kind) {
    throw new UserError(
      'wrong_type',
      'This is no kind of file that a page can show: send a GIF, WebP, APNG, AVIF, MP4 or WebM, or a still picture.',
    );
  }
  const { width, height, hasAlpha } = facts;
  const isStill = facts.kind === 'picture' && kind !== 'avif';
  const mime = isStill ? `image/${facts.codec === 'jpg' ? 'jpeg' : facts.codec}` : FILE_KINDS[kind].mime;
  const shown = { bytes, width, height, hasAlpha, kind, mime };
  if (kind === 'avif') {
    // Picture readers see its first picture only.
    const { frameBytes, seconds } = await factsOfMovie(await readFile(path));
    return { ...shown, frames: frameBytes.length, durationMs: Math.round(seconds * 1000) };
  }
  if (isStill) return { ...shown, frames: 1, durationMs: 0 };
  const { starts, duration } = frameTimes(facts);
  return { ...shown, frames: starts.length, durationMs: Math.round(duration * 1000) };
}

function kindOf({ kind, container, codec }: MediaFacts): FileKindId | null {
  if (codec === 'av1' || container === 'heif' || codec === 'avif') return 'avif';
  if (kind === 'picture') return ['png', 'jpeg', 'webp'].includes(codec) ? 'poster' : null;
  if (container === 'gif' || container === 'webp' || container === 'apng') return container;
  if (codec === 'h264') return 'mp4';
  if (codec === 'vp9' || codec === 'vp8') return 'webm';
  return null;
}
