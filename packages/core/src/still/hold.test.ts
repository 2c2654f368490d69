import { describe, expect, it } from 'vitest';
import { createFrame, type PixelFrame } from '../pixels/index.js';
import { seeded } from '../testing/seeded.js';
import { createEvenLight, createMask, layRipples } from './index.js';

function noisy(seed: number, gain = 1, offset = 0, width = 60, height = 40): PixelFrame {
  const random = seeded(seed);
  const frame = createFrame(width, height);
  for (let i = 0; i < frame.rgba.length; i += 4) {
    for (let c = 0; c < 3; c++)
      frame.rgba[i + c] = Math.min(255, Math.round((40 + random() * 120) * gain + offset));
    frame.rgba[i + 3] = 255;
  }
  return frame;
}
const disc = (softness: number) => {
  const mask = createMask(60, 40);
  for (let p = 0; p < mask.values.length; p++) {
    const away = Math.hypot((p % 60) - 30, Math.floor(p / 60) - 20);
    mask.values[p] = Math.round(255 * Math.max(0, Math.min(1, (10 - away) / Math.max(1, softness))));
  }
  return mask;
};

describe('laying ripples on the plate', () => {
  it.each([4, 19])('keeps held bytes and moving bytes exactly, and mixes between (seed %i)', (seed) => {
    const [plate, frame] = [noisy(seed), noisy(seed + 50)];
    const mask = disc(4);
    const laid = layRipples(plate, frame, mask);
    for (let p = 0; p < mask.values.length; p++) {
      for (let c = 0; c < 4; c++) {
        const [from, to] = [plate.rgba[p * 4 + c], frame.rgba[p * 4 + c]];
        const share = mask.values[p] / 255;
        if (share === 0) expect(laid.rgba[p * 4 + c]).toBe(from);
        else if (share === 1) expect(laid.rgba[p * 4 + c]).toBe(to);
        else expect(Math.abs(laid.rgba[p * 4 + c] - (from + (to - from) * share))).toBeLessThanOrEqual(0.51);
      }
    }
  });

  it('brings no colour in from what is clear', () => {
    const plate = createFrame(60, 40);
    const laid = layRipples(plate, noisy(3), createMask(60, 40, new Uint8Array(2400).fill(128)));
    expect(laid.rgba[3]).toBe(128);
    expect(laid.rgba[0]).toBe(noisy(3).rgba[0]);
  });

  it('refuses what does not lie on each other', () => {
    expect(() => layRipples(noisy(1), createFrame(8, 8), disc(1))).toThrow('do not lie on each other');
  });
});

describe('even light', () => {
  it.each([
    [1.1, 4],
    [0.85, -6],
    [1, 12],
  ])('takes a gain of %f and an offset of %f out, though what moves differs', (gain, offset) => {
    const plate = noisy(8);
    const frame = noisy(8, gain, offset);
    const mask = disc(1);
    // What moves shows something else altogether.
    for (let p = 0; p < mask.values.length; p++) {
      if (mask.values[p] > 0) frame.rgba.fill(250, p * 4, p * 4 + 3);
    }
    const even = createEvenLight(plate, mask);
    const lit = even.apply(frame);
    let off = 0;
    let count = 0;
    for (let p = 0; p < mask.values.length; p++) {
      if (mask.values[p] > 0) continue;
      off += Math.abs(lit.rgba[p * 4] - plate.rgba[p * 4]);
      count++;
    }
    expect(off / count).toBeLessThan(1);
  });

  it('leaves frames as they are where there is no edge to look at', () => {
    const plate = noisy(8);
    const frame = noisy(9);
    for (const value of [0, 255]) {
      const mask = createMask(60, 40, new Uint8Array(2400).fill(value));
      expect(createEvenLight(plate, mask).apply(frame).rgba).toEqual(frame.rgba);
    }
  });
});
