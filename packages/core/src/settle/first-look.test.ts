import { describe, expect, it } from 'vitest';
import { createFrame, type PixelFrame } from '../pixels/index.js';
import { copyOf, movingBall, noiseFrame } from '../testing/pictures.js';
import { seeded, wholeFrom } from '../testing/seeded.js';
import { lookAt, startLook } from './first-look.js';
import { settle } from './settle.js';

/** Two scenes, one behind the other. @returns where the second begins, too. */
function twoScenes(seed: number): { frames: PixelFrame[]; cut: number } {
  const random = seeded(seed);
  const [width, height] = [wholeFrom(random, 20, 90), wholeFrom(random, 20, 60)];
  const cut = wholeFrom(random, 4, 9);
  const dark = movingBall(width, height, cut, { seed, grain: 3 });
  for (const { rgba } of dark) for (let i = 0; i < rgba.length; i++) if (i % 4 !== 3) rgba[i] >>= 2;
  return { frames: [...dark, ...movingBall(width, height, 8, { seed: seed + 1, grain: 3 })], cut };
}

describe('a first look at frames as they come', () => {
  for (let seed = 1; seed <= 6; seed++) {
    it(`sees what is seen when all are there, and settles to the same (seed ${seed})`, () => {
      const { frames, cut } = twoScenes(seed);
      const look = startLook(frames.length);
      for (const frame of copyOf(frames)) {
        look.add(frame);
        // Whoever gave it may go on with it.
        frame.rgba.fill(0);
      }
      const looked = look.result();
      expect(looked.scenes.map(({ start }) => start)).toEqual([0, cut]);
      const [early, late] = [looked, undefined].map((seen) =>
        settle(copyOf(frames), 4, { isOpaque: true, merging: 0.7, looked: seen }),
      );
      expect(early).toEqual(late);
      expect(early.scenes).toEqual([0, cut]);
    });
  }

  it('measures frames from all over the reel: a busy half is not missed', () => {
    const flat = () => createFrame(40, 40, new Uint8Array(40 * 40 * 4).fill(255));
    const busy = noiseFrame(40, 40, seeded(2));
    const calm = lookAt(Array.from({ length: 20 }, flat)).masking[820];
    for (const half of [0, 1]) {
      const frames = Array.from({ length: 20 }, (_, f) => (f < 10 === (half === 0) ? busy : flat()));
      expect(lookAt(frames).masking[820]).toBeGreaterThan(calm * 2);
    }
  });

  it('says when frames are missing, or too many', () => {
    const [first] = movingBall(8, 8, 1);
    const look = startLook(3);
    expect(() => look.result()).toThrow('0 of 3 frames');
    for (let added = 1; added <= 4; added++) {
      look.add(first);
      if (added !== 3) expect(() => look.result()).toThrow(`${added} of 3 frames`);
    }
  });
});
