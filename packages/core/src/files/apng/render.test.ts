import { execFileSync } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { promisify } from 'node:util';
import { deflate } from 'node:zlib';
import { describe, expect, it } from 'vitest';
import { createFrame, type PixelFrame } from '../../pixels/index.js';
import { copyOf, movingBall } from '../../testing/pictures.js';
import { seeded } from '../../testing/seeded.js';
import { apng } from './kind.js';
import { startApng } from './render.js';

const packed = promisify(deflate);

interface Wanted {
  readonly settings?: Partial<typeof apng.settings.defaults>;
  readonly isOpaque?: boolean;
  /** Frames of each part. */
  readonly parts?: number;
}

async function encoded(frames: readonly PixelFrame[], { settings, isOpaque = true, parts = 1 }: Wanted = {}) {
  const rendering = startApng({
    reel: frames.map((_, source) => ({ source, delayCs: 8.3 })),
    settings: { ...apng.settings.defaults, settle: 0, ...settings },
    ...{ matte: 'transparent', plays: 0, isOpaque, isInParts: parts > 1 },
    deflate: (bytes) => packed(bytes),
    onProgress: () => {},
  });
  const each = Math.ceil(frames.length / parts);
  for (let from = 0; from < frames.length; from += each)
    await rendering.add(copyOf(frames.slice(from, from + each)));
  return rendering.finish();
}

/** As ffmpeg shows it, RGBA. */
function byFfmpeg(bytes: Uint8Array, size: number): Uint8Array[] {
  const folder = mkdtempSync(join(tmpdir(), 'muted-pond-test-'));
  try {
    writeFileSync(join(folder, 'it.png'), bytes);
    const raw = execFileSync(
      'ffmpeg',
      [
        ...['-v', 'error', '-f', 'apng', '-i', join(folder, 'it.png'), '-fps_mode', 'passthrough'],
        ...['-pix_fmt', 'rgba', '-f', 'rawvideo', '-'],
      ],
      { maxBuffer: 1 << 28 },
    );
    return Array.from(
      { length: raw.length / size },
      (_, i) => new Uint8Array(raw.subarray(i * size, (i + 1) * size)),
    );
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
}

/** Frames with soft and hard alpha that come and go. */
function seeThrough(seed: number, count: number): PixelFrame[] {
  const random = seeded(seed);
  let rgba = new Uint8Array(20 * 12 * 4);
  return Array.from({ length: count }, () => {
    rgba = rgba.slice();
    for (let change = 0; change < 40; change++) {
      const at = 4 * Math.floor(random() * 240);
      const alpha = [0, 80, 255][Math.floor(random() * 3)];
      rgba.set(alpha === 0 ? [0, 0, 0, 0] : [random() * 256, random() * 256, random() * 256, alpha], at);
    }
    return createFrame(20, 12, rgba);
  });
}

describe('an animated PNG', () => {
  it.each([1, 2, 3, 4])('is exact, in one part and in several (seed %i)', async (seed) => {
    const frames = movingBall(40, 24, 9, { grain: seed });
    for (const parts of [1, 3]) {
      const { bytes, frameBytes } = await encoded(frames, { parts });
      const shown = byFfmpeg(bytes, 40 * 24 * 4);
      expect(shown).toHaveLength(9);
      for (const [i, frame] of frames.entries()) expect(Buffer.compare(shown[i], frame.rgba)).toBe(0);
      expect(frameBytes).toHaveLength(9);
      expect(frameBytes.reduce((sum, one) => sum + one, 0)).toBeLessThanOrEqual(bytes.length);
    }
  });

  it.each([5, 6, 7])('keeps what is transparent, in part or wholly (seed %i)', async (seed) => {
    const frames = seeThrough(seed, 8);
    const { bytes } = await encoded(frames, { isOpaque: false });
    const shown = byFfmpeg(bytes, 20 * 12 * 4);
    for (const [i, frame] of frames.entries()) expect(Buffer.compare(shown[i], frame.rgba)).toBe(0);
  });

  it('lengthens a frame that nothing follows', async () => {
    const [one, other] = movingBall(30, 20, 2);
    const { bytes, frameBytes } = await encoded([one, one, one, other]);
    expect(byFfmpeg(bytes, 30 * 20 * 4)).toHaveLength(2);
    expect(frameBytes.map((weight) => weight > 0)).toEqual([true, false, false, true]);
  });

  it('with a palette shows no other colours, and is the same file every time', async () => {
    const frames = movingBall(40, 24, 6, { grain: 3 });
    const settings = { colours: 'palette', colors: 16 } as const;
    const made = await encoded(frames, { settings });
    const rgb = made.palette ?? new Uint8Array();
    const colours = new Set(
      Array.from({ length: rgb.length / 3 }, (_, i) => [...rgb.subarray(i * 3, i * 3 + 3)].join()),
    );
    expect(colours.size).toBeLessThanOrEqual(16);
    for (const rgba of byFfmpeg(made.bytes, 40 * 24 * 4)) {
      for (let at = 0; at < rgba.length; at += 4) {
        if (!colours.has([...rgba.subarray(at, at + 3)].join())) throw new Error('Another colour is shown.');
      }
    }
    expect(Buffer.compare((await encoded(frames, { settings })).bytes, made.bytes)).toBe(0);
  });

  it('settled is lighter', async () => {
    const frames = movingBall(60, 40, 8, { grain: 3 });
    const exact = await encoded(frames);
    const settled = await encoded(frames, { settings: { settle: 4 } });
    expect(settled.bytes.length).toBeLessThan(exact.bytes.length * 0.8);
  });
});
