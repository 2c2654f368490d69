import { execFileSync } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import sharp from 'sharp';

/** What a reader that is not ours makes of a GIF: whole pictures, RGBA, and delays in centiseconds. */
export interface ReadByOthers {
  readonly pictures: readonly Uint8Array[];
  readonly delaysCs: readonly number[];
}

/** libvips (through sharp). */
export async function readWithSharp(
  bytes: Uint8Array,
): Promise<ReadByOthers & { plays: number; width: number; height: number }> {
  const image = sharp(bytes, { pages: -1, limitInputPixels: false });
  const { width = 0, pageHeight, height = 0, delay, loop = 1 } = await image.metadata();
  const raw = await image.ensureAlpha().raw().toBuffer();
  const size = width * (pageHeight ?? height) * 4;
  return {
    pictures: Array.from(
      { length: raw.length / size },
      (_, i) => new Uint8Array(raw.subarray(i * size, (i + 1) * size)),
    ),
    delaysCs: (delay ?? []).map((ms) => ms / 10),
    // libvips counts plays: 0 without end.
    plays: loop,
    width,
    height: pageHeight ?? height,
  };
}

/** ffmpeg. */
export function readWithFfmpeg(bytes: Uint8Array, width: number, height: number): ReadByOthers {
  const folder = mkdtempSync(join(tmpdir(), 'muted-pond-test-'));
  try {
    const path = join(folder, 'it.gif');
    writeFileSync(path, bytes);
    const raw = execFileSync(
      'ffmpeg',
      [
        ...['-v', 'error', '-min_delay', '0', '-max_gif_delay', '65535', '-i', path],
        ...['-fps_mode', 'passthrough', '-pix_fmt', 'rgba', '-f', 'rawvideo', '-'],
      ],
      { maxBuffer: 1 << 30 },
    );
    const times = execFileSync(
      'ffprobe',
      [
        ...['-v', 'error', '-min_delay', '0', '-max_gif_delay', '65535', '-show_entries', 'packet=duration'],
        ...['-of', 'csv=p=0', path],
      ],
      { encoding: 'utf8' },
    );
    const size = width * height * 4;
    return {
      pictures: Array.from(
        { length: raw.length / size },
        (_, i) => new Uint8Array(raw.subarray(i * size, (i + 1) * size)),
      ),
      delaysCs: times
        .trim()
        .split('\n')
        .map((line) => Number(line.replace(',', ''))),
    };
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
}
