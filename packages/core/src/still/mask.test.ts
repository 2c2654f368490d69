import { describe, expect, it } from 'vitest';
import { seeded, wholeFrom } from '../testing/seeded.js';
import {
  beginStroke,
  createMask,
  cutMask,
  featherMask,
  growMask,
  invertMask,
  joinMasks,
  type Mask,
  movingMask,
  movingShare,
  NOTHING_HELD,
  type Ripple,
  rasterOutline,
  refineMask,
  resizeMask,
  signedDistance,
} from './index.js';

const SEEDS = [2, 13, 37, 71];

/** Some discs on nothing. */
function discs(seed: number, width = 48, height = 36): Mask {
  const random = seeded(seed);
  const mask = createMask(width, height);
  for (let k = 0; k < 3; k++) {
    const [cx, cy, r] = [random() * width, random() * height, 3 + random() * 8];
    for (let p = 0; p < mask.values.length; p++) {
      if (Math.hypot((p % width) - cx, Math.floor(p / width) - cy) < r) mask.values[p] = 255;
    }
  }
  return mask;
}

describe.each(SEEDS)('a mask (seed %i)', (seed) => {
  it('knows the exact distance to its edge, as looking at every pixel does', () => {
    const mask = discs(seed);
    const { width, values } = mask;
    const distance = signedDistance(mask);
    const random = seeded(seed + 1);
    for (let k = 0; k < 60; k++) {
      const p = wholeFrom(random, 0, values.length - 1);
      let nearest = Number.POSITIVE_INFINITY;
      for (let q = 0; q < values.length; q++) {
        if (values[q] >= 128 === values[p] >= 128) continue;
        nearest = Math.min(
          nearest,
          Math.hypot((p % width) - (q % width), Math.floor(p / width) - Math.floor(q / width)),
        );
      }
      if (!Number.isFinite(nearest)) continue;
      expect(distance[p]).toBeCloseTo(values[p] >= 128 ? 0.5 - nearest : nearest - 0.5, 4);
    }
  });

  it('knows it as exactly up to a reach, and beyond it which side a place is on', () => {
    const mask = discs(seed);
    const exact = signedDistance(mask);
    for (const reach of [1, 6.5, 40]) {
      const near = signedDistance(mask, reach);
      for (let p = 0; p < exact.length; p++) {
        if (Math.abs(exact[p]) <= reach) expect(near[p]).toBe(exact[p]);
        else expect(near[p] * Math.sign(exact[p])).toBeGreaterThanOrEqual(reach);
      }
    }
  });

  it('grows and shrinks by whole pixels, and comes back where it is thick', () => {
    const mask = discs(seed);
    const distance = signedDistance(mask);
    for (const by of [3, -2]) {
      const grown = growMask(mask, by);
      for (let p = 0; p < grown.values.length; p++) {
        if (Math.abs(distance[p] - by) > 0.51) expect(grown.values[p] >= 128).toBe(distance[p] < by);
      }
    }
    expect(growMask(mask, 0.0001).values).toEqual(mask.values);
  });

  it('fades over the width it is told, and keeps its weight inside', () => {
    const edge = createMask(
      80,
      8,
      Uint8Array.from({ length: 640 }, (_, p) => (p % 80 < 40 ? 255 : 0)),
    );
    const width = 6 + (seed % 20);
    const faded = featherMask(edge, width).values.subarray(0, 80);
    const from = faded.findIndex((value) => value < 0.95 * 255);
    const to = faded.findIndex((value) => value < 0.05 * 255);
    expect(to - from).toBeGreaterThan(width * 0.75);
    expect(to - from).toBeLessThan(width * 1.3 + 2);
    expect(Math.abs(faded[39] + faded[40] - 255)).toBeLessThan(12);
    for (let x = 1; x < 80; x++) expect(faded[x]).toBeLessThanOrEqual(faded[x - 1]);
  });

  it('inverted twice is itself; joined and cut are the larger and the smaller', () => {
    const [a, b] = [discs(seed), discs(seed + 100)];
    expect(invertMask(invertMask(a)).values).toEqual(a.values);
    const joined = joinMasks(a, b);
    const cut = cutMask(a, b);
    for (let p = 0; p < a.values.length; p++) {
      expect(joined.values[p]).toBe(Math.max(a.values[p], b.values[p]));
      expect(cut.values[p]).toBe(Math.min(a.values[p], 255 - b.values[p]));
    }
  });

  it('keeps its share of what moves in another size', () => {
    const mask = discs(seed, 96, 72);
    for (const size of [
      { width: 48, height: 36 },
      { width: 31, height: 23 },
      { width: 130, height: 97 },
    ]) {
      expect(movingShare(resizeMask(mask, size))).toBeCloseTo(movingShare(mask), 1);
    }
  });
});

describe('a brush', () => {
  const brush = { radius: 6, softness: 0.5, strength: 1, way: 'stir' } as const;

  it('covers its core, reaches nothing at its radius, and tells what it touched', () => {
    const mask = createMask(64, 40);
    const touched = beginStroke(mask, brush).add({ x: 30, y: 20, pressure: 1 });
    for (let p = 0; p < mask.values.length; p++) {
      const [x, y] = [p % 64, Math.floor(p / 64)];
      const away = Math.hypot(x + 0.5 - 30, y + 0.5 - 20);
      if (away <= 3) expect(mask.values[p]).toBe(255);
      if (away >= 6) expect(mask.values[p]).toBe(0);
      const isIn =
        x >= touched.x && x < touched.x + touched.width && y >= touched.y && y < touched.y + touched.height;
      if (mask.values[p] > 0) expect(isIn).toBe(true);
    }
  });

  it('paints no darker where a stroke crosses itself, and the same in one piece or in many', () => {
    const half = { ...brush, strength: 0.5 };
    const once = createMask(64, 40);
    const many = createMask(64, 40);
    const one = beginStroke(once, half);
    one.add({ x: 8, y: 20, pressure: 1 });
    one.add({ x: 56, y: 20, pressure: 1 });
    const pieces = beginStroke(many, half);
    for (const x of [8, 20, 32, 56, 40, 24, 8]) pieces.add({ x, y: 20, pressure: 1 });
    expect(many.values).toEqual(once.values);
    expect(Math.max(...once.values)).toBe(128);
  });

  it('calms what was stirred, and follows the pressure of a pen', () => {
    const mask = createMask(40, 40, new Uint8Array(1600).fill(255));
    beginStroke(mask, { ...brush, way: 'calm' }).add({ x: 20, y: 20, pressure: 0.5 });
    expect(mask.values[20 * 40 + 20]).toBe(127);
    expect(mask.values[2 * 40 + 2]).toBe(255);
  });

  it('leaves the picture without harm', () => {
    const mask = createMask(20, 20);
    const stroke = beginStroke(mask, brush);
    expect(stroke.add({ x: -50, y: -50, pressure: 1 })).toMatchObject({ width: 0 });
    stroke.add({ x: 60, y: 70, pressure: 1 });
    expect(movingShare(mask)).toBeGreaterThan(0);
  });
});

describe('an outline', () => {
  it('of corners is its polygon, with edges covered in part', () => {
    const points = [
      [0.25, 0.25],
      [0.75, 0.25],
      [0.75, 0.8],
      [0.25, 0.8],
    ].map(([x, y]) => ({ x, y, smooth: false }));
    const { values } = rasterOutline({ points, adds: true }, 40, 40);
    for (let p = 0; p < values.length; p++) {
      const [x, y] = [p % 40, Math.floor(p / 40)];
      expect(values[p]).toBe(x >= 10 && x < 30 && y >= 10 && y < 32 ? 255 : 0);
    }
  });

  it('of smooth points round a circle is nearly the circle', () => {
    const points = Array.from({ length: 10 }, (_, i) => ({
      x: 0.5 + 0.3 * Math.cos((i / 10) * 2 * Math.PI),
      y: 0.5 + 0.3 * Math.sin((i / 10) * 2 * Math.PI),
      smooth: true,
    }));
    const mask = rasterOutline({ points, adds: true }, 200, 200);
    expect(movingShare(mask)).toBeCloseTo(Math.PI * 0.3 ** 2, 2);
  });
});

describe('ripples', () => {
  const ripple = (part: Partial<Ripple>): Ripple => ({
    ...{
      id: 'a',
      name: 'Lantern',
      mask: null,
      outlines: [],
      grow: 0,
      feather: 0,
      invert: false,
      shown: true,
      loop: null,
    },
    ...part,
  });
  const square = (from: number, to: number, adds = true) => ({
    adds,
    points: [
      { x: from, y: from, smooth: false },
      { x: to, y: from, smooth: false },
      { x: to, y: to, smooth: false },
      { x: from, y: to, smooth: false },
    ],
  });
  const size = { width: 20, height: 20 };
  const painted = () => createMask(20, 20, new Uint8Array(400).fill(255));

  it('move together what any of them moves; hidden ones do not count', () => {
    const ripples = [
      ripple({ outlines: [square(0, 0.25)] }),
      ripple({ outlines: [square(0.5, 1)], shown: false }),
    ];
    const still = { ...NOTHING_HELD, ripples };
    expect(movingShare(movingMask(still.ripples, painted, size))).toBeCloseTo(1 / 16, 5);
    const shown = { ...still, ripples: ripples.map((one) => ({ ...one, shown: true })) };
    expect(movingShare(movingMask(shown.ripples, painted, size))).toBeCloseTo(1 / 16 + 1 / 4, 5);
  });

  it('take outlines in their order, added or taken away, over the paint', () => {
    const holed = ripple({ mask: 'x', outlines: [square(0.25, 0.75, false), square(0.4, 0.6)] });
    expect(movingShare(movingMask([holed], painted, size))).toBeCloseTo(1 - 0.25 + 0.04, 5);
  });

  it('inverted, hold what they moved', () => {
    const mask = discs(5);
    expect(refineMask(mask, { grow: 0, feather: 0, invert: true }).values).toEqual(invertMask(mask).values);
  });
});
