import { describe, expect, it } from 'vitest';
import { compileKernel } from '../../../../tools/make-kernel.mjs';
import { noiseFrame } from '../testing/pictures.js';
import { seeded } from '../testing/seeded.js';
import {
  createFrame,
  createPlainResizer,
  createResizer,
  linearToSrgb,
  sizeForWidth,
  sizeWithin,
  srgbToLinear,
} from './index.js';
import { RESIZE_KERNEL } from './resize-kernel.js';

describe('resizing in linear light', () => {
  it('has a kernel compiled from its source as it stands', () => {
    expect(Buffer.from(RESIZE_KERNEL, 'base64').equals(compileKernel('resize'))).toBe(true);
  });

  it('keeps a flat colour exactly, whatever the sizes', () => {
    for (const [w, h, ow, oh] of [
      [64, 36, 17, 9],
      [9, 31, 3, 2],
      [5, 5, 12, 20],
      [1, 1, 8, 8],
    ]) {
      const frame = createFrame(w, h);
      for (let at = 0; at < frame.rgba.length; at += 4) frame.rgba.set([37, 141, 222, 255], at);
      const out = createResizer(frame, { width: ow, height: oh }).resize(frame);
      for (let at = 0; at < out.rgba.length; at += 4) {
        expect([...out.rgba.subarray(at, at + 4)]).toEqual([37, 141, 222, 255]);
      }
    }
  });

  it('a fine black and white pattern keeps its light: 188, not 128', () => {
    const frame = createFrame(64, 64);
    for (let p = 0; p < 64 * 64; p++) {
      const level = (p + (p >> 6)) % 2 === 0 ? 255 : 0;
      frame.rgba.set([level, level, level, 255], p * 4);
    }
    const out = createResizer(frame, { width: 16, height: 16 }).resize(frame);
    const middle = out.rgba[(8 * 16 + 8) * 4];
    expect(middle).toBeGreaterThanOrEqual(186);
    expect(middle).toBeLessThanOrEqual(189);
  });

  it('keeps the mean light of noise (seed 4)', () => {
    const frame = noiseFrame(96, 72, seeded(4));
    const out = createResizer(frame, { width: 32, height: 24 }).resize(frame);
    const light = (rgba: Uint8Array) => {
      let sum = 0;
      for (let at = 0; at < rgba.length; at += 4) sum += srgbToLinear(rgba[at] / 255);
      return sum / (rgba.length / 4);
    };
    expect(light(out.rgba)).toBeCloseTo(light(frame.rgba), 1);
  });

  it('does not let what cannot be seen bleed in', () => {
    const frame = createFrame(32, 32);
    for (let p = 0; p < 32 * 32; p++) {
      frame.rgba.set(p % 32 < 16 ? [255, 255, 255, 255] : [255, 0, 0, 0], p * 4);
    }
    const out = createResizer(frame, { width: 8, height: 8 }).resize(frame);
    for (let at = 0; at < out.rgba.length; at += 4) {
      if (out.rgba[at + 3] > 0) expect([...out.rgba.subarray(at, at + 3)]).toEqual([255, 255, 255]);
    }
  });

  it('is the frame itself where nothing changes, and refuses another size', () => {
    const frame = createFrame(8, 4);
    expect(createResizer(frame, frame).resize(frame)).toBe(frame);
    expect(() => createResizer({ width: 9, height: 4 }, { width: 3, height: 2 }).resize(frame)).toThrow(
      'takes 9 × 4',
    );
    expect(() => createResizer(frame, { width: 0, height: 2 })).toThrow('at least 1 px');
  });
});

describe('sizes and transfer', () => {
  it('keep the shape and never enlarge', () => {
    expect(sizeForWidth({ width: 1280, height: 720 }, 480)).toEqual({ width: 480, height: 270 });
    expect(sizeForWidth({ width: 300, height: 200 }, 480)).toEqual({ width: 300, height: 200 });
    expect(sizeForWidth({ width: 5000, height: 3 }, 100)).toEqual({ width: 100, height: 1 });
    expect(sizeWithin({ width: 720, height: 1280 }, 960)).toEqual({ width: 540, height: 960 });
  });

  it('sRGB goes there and back', () => {
    for (let byte = 0; byte < 256; byte++) {
      expect(Math.round(linearToSrgb(srgbToLinear(byte / 255)) * 255)).toBe(byte);
    }
    expect(srgbToLinear(0.5)).toBeCloseTo(0.21404, 4);
  });

  it.each([3, 7, 19, 31])('with the kernel is the same as without to a level (seed %i)', (seed) => {
    const random = seeded(seed);
    const side = () => 1 + Math.floor(random() * 90);
    for (let round = 0; round < 12; round++) {
      const frame = noiseFrame(side(), side(), random);
      if (round % 2 === 0)
        for (let at = 3; at < frame.rgba.length; at += 4)
          frame.rgba[at] = random() < 0.3 ? 0 : 255 * random();
      const size = { width: side(), height: side() };
      const x = random() * (frame.width - 1);
      const y = random() * (frame.height - 1);
      const window = { x, y, width: frame.width - x, height: frame.height - y };
      const fast = createResizer(frame, size, window).resize(frame).rgba;
      const plain = createPlainResizer(frame, size, window).resize(frame).rgba;
      for (let at = 0; at < plain.length; at += 4) {
        expect(Math.abs(fast[at + 3] - plain[at + 3])).toBeLessThanOrEqual(1);
        // Where hardly anything is seen, colours say little.
        if (plain[at + 3] < 24) continue;
        for (let c = 0; c < 3; c++) expect(Math.abs(fast[at + c] - plain[at + c])).toBeLessThanOrEqual(1);
      }
    }
  });
});
