import sharp from 'sharp';
import { describe, expect, it } from 'vitest';
import { seeded, wholeFrom } from '../testing/seeded.js';
import { createFrame, showAt } from './index.js';

describe('a picture drawn larger', () => {
  it('is what another bilinear scaler makes of it, to two levels (12 seeds)', async () => {
    for (let seed = 1; seed <= 12; seed++) {
      const random = seeded(seed);
      const [width, height] = [wholeFrom(random, 2, 40), wholeFrom(random, 2, 40)];
      const size = { width: wholeFrom(random, width, 90), height: wholeFrom(random, height, 90) };
      const rgba = Uint8Array.from({ length: width * height * 4 }, (_, i) =>
        i % 4 === 3 ? 255 : random() * 256,
      );
      const ours = showAt(createFrame(width, height, rgba), size);
      const theirs = await sharp(rgba, { raw: { width, height, channels: 4 } })
        .resize(size.width, size.height, { fit: 'fill', kernel: 'linear' })
        .raw()
        .toBuffer();
      let worst = 0;
      for (let y = 2; y < size.height - 2; y++) {
        for (let i = (y * size.width + 2) * 4; i < (y * size.width + size.width - 2) * 4; i++) {
          worst = Math.max(worst, Math.abs(ours.rgba[i] - theirs[i]));
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
