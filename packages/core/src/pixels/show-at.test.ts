import { execFileSync } from 'node:child_process';
import { describe, expect, it } from 'vitest';
import { seeded, wholeFrom } from '../testing/seeded.js';
import { createFrame, type Size, showAt } from './index.js';

describe('a picture drawn larger', () => {
  it('is what another bilinear scaler makes of it, to two levels (12 seeds)', () => {
    for (let seed = 1; seed <= 12; seed++) {
      const random = seeded(seed);
      const [width, height] = [wholeFrom(random, 8, 40), wholeFrom(random, 8, 40)];
      const size = { width: wholeFrom(random, width, 90), height: wholeFrom(random, height, 90) };
      // Grey, since the other scaler goes through luma and chroma.
      const grey = Uint8Array.from({ length: width * height }, () => random() * 256);
      const rgba = Uint8Array.from({ length: width * height * 4 }, (_, i) => grey[i >> 2]);
      const ours = showAt(createFrame(width, height, rgba), size);
      const theirs = scaledByFfmpeg(grey, { width, height }, size);
      let worst = 0;
      for (let y = 2; y < size.height - 2; y++) {
        for (let i = (y * size.width + 2) * 4; i < (y * size.width + size.width - 2) * 4; i++) {
          worst = Math.max(worst, Math.abs(ours.rgba[i] - theirs[i >> 2]));
        }
      }
      expect(
        worst,
        `seed ${seed}, ${width} × ${height} to ${size.width} × ${size.height}`,
      ).toBeLessThanOrEqual(2);
    }
  });

  it('of one colour stays that colour, and of its own size stays the same object', () => {
    const flat = createFrame(3, 5, new Uint8Array(60).fill(77));
    expect(new Set(showAt(flat, { width: 17, height: 9 }).rgba)).toEqual(new Set([77]));
    expect(showAt(flat, { width: 3, height: 5 })).toBe(flat);
    expect(() => showAt(flat, { width: 2, height: 9 })).toThrow('is not shown at');
  });
});

function scaledByFfmpeg(grey: Uint8Array, from: Size, to: Size): Uint8Array {
  const raw = ['-f', 'rawvideo', '-pix_fmt', 'gray'];
  const scale = `scale=${to.width}:${to.height}:flags=bilinear+accurate_rnd`;
  return execFileSync(
    'ffmpeg',
    [
      ...['-v', 'error', ...raw, '-s', `${from.width}x${from.height}`, '-i', 'pipe:0'],
      ...['-vf', scale, ...raw, 'pipe:1'],
    ],
    { input: grey },
  );
}
