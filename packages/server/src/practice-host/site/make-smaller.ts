import { readFile, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import type { FileKindId } from '@muted-pond/core/files';
import sharp from 'sharp';
import { ffmpegText } from '../../ffmpeg/index.js';
import { openScratch } from '../../scratch/index.js';

/** A place that encodes anew makes pictures so much narrower. */
const SHARE = 0.6;
const TIME_LIMIT_MS = 120_000;

/**
 * Makes a file smaller as some places do, in its place.
 * @returns whether it could be done: such places leave some kinds as they are.
 */
export async function makeSmaller(path: string, kind: FileKindId, width: number): Promise<boolean> {
  const narrow = Math.max(16, 2 * Math.round((width * SHARE) / 2));
  if (kind === 'gif' || kind === 'webp') {
    const picture = sharp(await readFile(path), { animated: true, limitInputPixels: false });
    const smaller = picture.resize({ width: narrow });
    const bytes = await (kind === 'gif' ? smaller.gif() : smaller.webp({ quality: 60 })).toBuffer();
    await writeFile(path, bytes);
    return true;
  }
  if (kind === 'mp4' || kind === 'webm') {
    const scratch = await openScratch();
    const out = join(scratch.path, `smaller.${kind}`);
    const encoder = kind === 'mp4' ? 'libx264' : 'libvpx-vp9';
    try {
      await ffmpegText(
        'ffmpeg',
        [
          ...['-v', 'error', '-nostdin', '-y', '-i', `file:${path}`, '-vf', `scale=${narrow}:-2`],
          ...['-c:v', encoder, '-crf', '34', '-pix_fmt', 'yuv420p', '-movflags', '+faststart', `file:${out}`],
        ],
        TIME_LIMIT_MS,
      );
      await writeFile(path, await readFile(out));
    } finally {
      await scratch.remove();
    }
    return true;
  }
  return false;
}
