import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { compileKernel } from '../../../../../tools/make-kernel.mjs';
import { createFrame, type PixelFrame } from '../../pixels/index.js';
import { seeded } from '../../testing/seeded.js';
import { LEAD_KERNEL } from './lead-kernel.js';
import { openLeading } from './leading.js';

const [fast, plain] = [openLeading(), openLeading(true)];

function noise(random: () => number, count: number, most: number): Float32Array {
  return Float32Array.from({ length: count }, () => most * (2 * random() - 1));
}

function frameOf(random: () => number, width: number, height: number, isClear: boolean): PixelFrame {
  const frame = createFrame(width, height);
  for (let i = 0; i < frame.rgba.length; i++) {
    const alpha = isClear && random() < 0.4 ? Math.floor(256 * random()) : 255;
    frame.rgba[i] = i % 4 === 3 ? alpha : Math.floor(256 * random());
  }
  return frame;
}

const SIZES = [
  [1, 1],
  [3, 2],
  [4, 9],
  [5, 1],
  [37, 23],
] as const;

describe('leading', () => {
  it('is compiled from the source that stands beside it', () => {
    expect(Buffer.from(LEAD_KERNEL, 'base64').equals(compileKernel('lead'))).toBe(true);
    expect(readFileSync(new URL('../../../kernel/lead.ts', import.meta.url), 'utf8')).toContain(
      'export function lead',
    );
  });

  describe.each(SIZES)('of %i × %i px', (width, height) => {
    const random = seeded(width * 31 + height);
    const count = width * height;
    const flow = { width, height, u: noise(random, count, 6), v: noise(random, count, 6) };
    const picture = () => ({ width, height, values: noise(random, count, 128) });

    it.each([0, 0.25, 0.371, 1])('gives the same with and without the kernel at %f', (moment) => {
      expect(fast.carry(flow, moment, 5)).toEqual(plain.carry(flow, moment, 5));
      const [a, b] = [picture(), picture()];
      expect(fast.apart(a, b, flow, moment)).toEqual(plain.apart(a, b, flow, moment));
      const shares = Float32Array.from({ length: count }, (_, p) => [0, 1, random()][p % 3]);
      for (const isClear of [false, true]) {
        const [one, other] = [0, 1].map(() => frameOf(random, width, height, isClear));
        const led = fast.lead(one, other, flow, moment, shares);
        expect(led.rgba).toEqual(plain.lead(one, other, flow, moment, shares).rgba);
      }
    });
  });

  it('of whole pixels copies them, whatever the share', () => {
    const random = seeded(5);
    const [width, height] = [24, 18];
    const [a, b] = [0, 1].map(() => frameOf(random, width, height, true));
    const count = width * height;
    const flow = { width, height, u: new Float32Array(count).fill(4), v: new Float32Array(count).fill(-2) };
    const pixel = ({ rgba }: PixelFrame, x: number, y: number) => {
      const at = 4 * (y * width + x);
      // What is clear has no colour.
      return rgba[at + 3] === 0 ? [0, 0, 0, 0] : [...rgba.subarray(at, at + 4)];
    };
    // Halfway, a comes from two pixels before and b from two pixels on.
    for (const share of [0, 1]) {
      const led = fast.lead(a, b, flow, 0.5, new Float32Array(count).fill(share));
      for (let y = 2; y < height - 2; y++) {
        for (let x = 4; x < width - 4; x++) {
          const from = share === 0 ? pixel(a, x - 2, y + 1) : pixel(b, x + 2, y - 1);
          expect(pixel(led, x, y)).toEqual(from);
        }
      }
    }
  });

  it('carries a field to where it comes through: v(x) = flow(x − t v(x))', () => {
    const [width, height] = [64, 48];
    const wave = (x: number, y: number) => 3 * Math.sin(x / 11) + 2 * Math.cos(y / 9);
    const at = (p: number) => [p % width, Math.floor(p / width)] as const;
    const u = Float32Array.from({ length: width * height }, (_, p) => wave(...at(p)));
    const v = Float32Array.from({ length: width * height }, (_, p) => wave(at(p)[1], at(p)[0]));
    const carried = fast.carry({ width, height, u, v }, 0.5, 8);
    for (let y = 8; y < height - 8; y += 5) {
      for (let x = 8; x < width - 8; x += 5) {
        const p = y * width + x;
        const [fromX, fromY] = [x - 0.5 * carried.u[p], y - 0.5 * carried.v[p]];
        expect(carried.u[p]).toBeCloseTo(wave(fromX, fromY), 1);
        expect(carried.v[p]).toBeCloseTo(wave(fromY, fromX), 1);
      }
    }
  });
});
