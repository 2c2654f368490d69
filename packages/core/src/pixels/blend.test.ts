import { describe, expect, it } from 'vitest';
import { seeded } from '../testing/seeded.js';
import { blendFrames, createFrame, type PixelFrame } from './index.js';

function noise(seed: number, alpha: (random: () => number) => number): PixelFrame {
  const random = seeded(seed);
  const frame = createFrame(9, 7);
  for (let i = 0; i < frame.rgba.length; i++) {
    frame.rgba[i] = i % 4 === 3 ? alpha(random) : Math.floor(random() * 256);
  }
  return frame;
}
const opaque = () => 255;

describe('a dissolve', () => {
  it.each([3, 8, 21])(
    'of opaque frames lies between them by its share, and ends in them (seed %i)',
    (seed) => {
      const [a, b] = [noise(seed, opaque), noise(seed + 1, opaque)];
      expect(blendFrames(a, b, 0).rgba).toEqual(a.rgba);
      expect(blendFrames(a, b, 1).rgba).toEqual(b.rgba);
      const third = blendFrames(a, b, 1 / 3);
      for (let i = 0; i < third.rgba.length; i++) {
        expect(Math.abs(third.rgba[i] - (a.rgba[i] * 2 + b.rgba[i]) / 3)).toBeLessThanOrEqual(0.51);
      }
    },
  );

  it.each([5, 34])('of see-through frames weighs colours by alpha (seed %i)', (seed) => {
    const any = (random: () => number) => Math.floor(random() * 256);
    const [a, b] = [noise(seed, any), noise(seed + 1, any)];
    const half = blendFrames(a, b, 0.5);
    for (let i = 0; i < half.rgba.length; i += 4) {
      const [from, to] = [a.rgba[i + 3], b.rgba[i + 3]];
      expect(Math.abs(half.rgba[i + 3] - (from + to) / 2)).toBeLessThanOrEqual(0.51);
      if (from + to === 0) continue;
      const wanted = (a.rgba[i] * from + b.rgba[i] * to) / (from + to);
      expect(Math.abs(half.rgba[i] - wanted)).toBeLessThanOrEqual(0.51);
    }
  });

  it('leaves both as they were, and refuses what differs in size', () => {
    const [a, b] = [noise(1, opaque), noise(2, opaque)];
    const copy = a.rgba.slice();
    blendFrames(a, b, 0.5);
    expect(a.rgba).toEqual(copy);
    expect(() => blendFrames(a, createFrame(3, 3), 0.5)).toThrow('cannot be mixed');
  });
});
