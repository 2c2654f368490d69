import { describe, expect, it } from 'vitest';
import { createFrame, type PixelFrame } from '../pixels/index.js';
import { movingBall, noiseFrame } from '../testing/pictures.js';
import { seeded, wholeFrom } from '../testing/seeded.js';
import { findCuts, scenesWithin, signatureOf } from './cuts.js';

const cutsOf = (frames: readonly PixelFrame[]) => findCuts(frames.map(signatureOf));

/** Ground of a few large patches, of its own light for each seed, under grain. */
function room(seed: number, shift = 0, light = 0): PixelFrame {
  const random = seeded(seed);
  const base = wholeFrom(random, 30, 190);
  const waves = Array.from({ length: 4 }, () => [random() * 0.12, random() * 0.12, random() * 7]);
  const grain = seeded(seed + shift * 31 + light);
  const frame = createFrame(128, 72);
  for (let p = 0; p < 128 * 72; p++) {
    const [x, y] = [(p % 128) + shift, Math.floor(p / 128)];
    const level = waves.reduce((sum, [a, b, c]) => sum + 22 * Math.sin(a * x + b * y + c), base);
    const shown = Math.max(0, Math.min(255, level + light + grain() * 6));
    frame.rgba.set([shown, shown * 0.9, shown * 0.8, 255], p * 4);
  }
  return frame;
}

describe('cuts', () => {
  for (const seed of [1, 2, 3, 4, 5, 6]) {
    it(`are found where scenes meet, and only there (seed ${seed})`, () => {
      const random = seeded(seed);
      const frames: PixelFrame[] = [];
      const wanted: number[] = [];
      for (let scene = 0; scene < 4; scene++) {
        if (scene > 0) wanted.push(frames.length);
        const speed = wholeFrom(random, 0, 3);
        const length = wholeFrom(random, 5, 14);
        for (let f = 0; f < length; f++) frames.push(room(seed * 10 + scene, f * speed));
      }
      expect(cutsOf(frames)).toEqual(wanted);
    });
  }

  it('are not where a camera pans fast, a ball flies, or the light sinks', () => {
    expect(cutsOf(Array.from({ length: 30 }, (_, f) => room(7, f * 6)))).toEqual([]);
    expect(cutsOf(movingBall(128, 72, 30, { seed: 2, grain: 8 }))).toEqual([]);
    expect(cutsOf(Array.from({ length: 20 }, (_, f) => room(8, 0, -f * 5)))).toEqual([]);
    expect(cutsOf([room(1)])).toEqual([]);
    expect(cutsOf([])).toEqual([]);
  });

  it('are everywhere where each frame is another picture', () => {
    const bright = [40, 200, 90, 240, 10].map((level) => {
      const frame = createFrame(50, 30);
      for (let p = 0; p < 50 * 30; p++) frame.rgba.set([level, level, level, 255], p * 4);
      return frame;
    });
    expect(cutsOf(bright)).toEqual([1, 2, 3, 4]);
  });

  it('are found in pictures smaller than what they are looked at in', () => {
    const random = seeded(4);
    const tiny = [20, 20, 20, 220, 220, 220].map((level) => {
      const frame = createFrame(2, 1);
      frame.rgba.fill(level + wholeFrom(random, 0, 3));
      return frame;
    });
    expect(cutsOf(tiny)).toEqual([3]);
    expect(cutsOf([noiseFrame(1, 1, random)])).toEqual([]);
  });

  it('part a span into scenes that meet, and only those within it do', () => {
    expect(scenesWithin({ start: 10, end: 50 }, [])).toEqual([{ start: 10, end: 50 }]);
    expect(scenesWithin({ start: 10, end: 50 }, [0, 10, 22, 40, 50, 77])).toEqual([
      { start: 10, end: 22 },
      { start: 22, end: 40 },
      { start: 40, end: 50 },
    ]);
  });

  it('are not at a flash of light', () => {
    // Two steps beside each other.
    const frames = [room(3), room(3, 1), room(3, 2), room(3, 3, 30), room(3, 4), room(3, 5), room(3, 6)];
    expect(cutsOf(frames)).toEqual([]);
  });
});
