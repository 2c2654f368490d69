import { describe, expect, it } from 'vitest';
import { SIGNATURE_BYTES, SIGNATURE_SIZE } from '../motion/index.js';
import { seeded } from '../testing/seeded.js';
import {
  blackFrames,
  createSeamField,
  makeLoop,
  nearDoubles,
  PLAIN_LOOP,
  rescored,
  type SeamLimits,
  searchSeams,
} from './index.js';

const { width, height } = SIGNATURE_SIZE;

interface Scene {
  readonly frames: number;
  /** Where the ball is, in pixels of a signature. */
  readonly ball: (frame: number) => readonly [x: number, y: number];
  readonly shift?: (frame: number) => readonly [x: number, y: number];
  readonly light?: (frame: number) => number;
  /** Levels, peak to peak. */
  readonly grain?: number;
  readonly seed?: number;
}

/** Signatures of a ball over textured ground, seen by a camera that may stray. */
function scene({
  frames,
  ball,
  shift = () => [0, 0],
  light = () => 0,
  grain = 1,
  seed = 5,
}: Scene): Uint8Array {
  const random = seeded(seed);
  const signatures = new Uint8Array(frames * SIGNATURE_BYTES).fill(128);
  for (let frame = 0; frame < frames; frame++) {
    const [dx, dy] = shift(frame);
    const [bx, by] = ball(frame);
    for (let y = 0; y < height; y++) {
      for (let x = 0; x < width; x++) {
        const [u, v] = [x - dx, y - dy];
        const ground = 110 + 30 * Math.sin(u / 5 + Math.cos(v / 7)) + 25 * Math.cos(v / 4 + u / 9);
        const near = Math.max(0, 1 - Math.hypot(u - bx, v - by) / 6);
        const level =
          ground + (225 - ground) * Math.min(1, near * 2) + light(frame) + (random() - 0.5) * grain;
        signatures[frame * SIGNATURE_BYTES + y * width + x] = Math.max(0, Math.min(255, Math.round(level)));
      }
    }
  }
  return signatures;
}

const round = (period: number) => (frame: number) => {
  const turn = (2 * Math.PI * frame) / period;
  return [32 + 12 * Math.cos(turn), 18 + 9 * Math.sin(turn)] as const;
};
const swing = (period: number) => (frame: number) =>
  [32 + 16 * Math.sin((2 * Math.PI * frame) / period), 18] as const;
const limits = (frames: number, more: Partial<SeamLimits> = {}): SeamLimits => ({
  from: 0,
  to: frames,
  shortest: 10,
  longest: frames,
  most: 8,
  ...more,
});
/** How far a length is from a whole number of periods. */
const offPeriod = (length: number, period: number) => Math.abs(length - Math.round(length / period) * period);

describe('the seam search', () => {
  it.each([
    [40, 5],
    [33.5, 6],
    [57, 7],
  ])('finds what turns with a period of %f frames, under grain (seed %i)', (period, seed) => {
    const frames = 150;
    const field = createSeamField(scene({ frames, ball: round(period), grain: 6, seed }));
    const [best] = searchSeams(field, limits(frames));
    expect(offPeriod(best.end - best.start, period)).toBeLessThanOrEqual(0.5);
    expect(best.score).toBeGreaterThan(90);
  });

  it('is not misled by a camera that strays and light that drifts', () => {
    const frames = 150;
    const shift = (frame: number) => [0.6 * Math.sin(frame / 19), 0.4 * Math.cos(frame / 31)] as const;
    const light = (frame: number) => 6 * Math.sin(frame / 47);
    const field = createSeamField(scene({ frames, ball: round(45), shift, light, grain: 3 }));
    const [best] = searchSeams(field, limits(frames));
    expect(offPeriod(best.end - best.start, 45)).toBeLessThanOrEqual(0.5);
    expect(best.score).toBeGreaterThan(85);
  });

  it('does not take a pendulum on its way back for the one on its way there', () => {
    const frames = 130;
    const field = createSeamField(scene({ frames, ball: swing(50) }));
    for (const { start, end, score } of searchSeams(field, limits(frames))) {
      if (score > 90) expect(offPeriod(end - start, 50)).toBeLessThanOrEqual(0.5);
    }
  });

  it('says so where there is no good cut', () => {
    const frames = 120;
    const field = createSeamField(scene({ frames, ball: (frame) => [6 + frame * 0.43, 18] }));
    for (const candidate of searchSeams(field, limits(frames))) expect(candidate.score).toBeLessThan(60);
  });

  it('orders places that were measured as it orders others', () => {
    const found = searchSeams(createSeamField(scene({ frames: 150, ball: round(40) })), limits(150));
    expect(found.length).toBeGreaterThan(1);
    for (const candidate of found) {
      expect(rescored(candidate, candidate.score)).toEqual(candidate);
      const { score, rank } = rescored(candidate, candidate.score / 2);
      expect([score, rank]).toEqual([candidate.score / 2, expect.closeTo(candidate.rank / 2, 6)]);
    }
  });

  it('prefers a loop in which something happens to one that stands still', () => {
    const frames = 160;
    const still = round(40)(0);
    const ball = (frame: number) => (frame < 80 ? still : round(40)(frame - 80));
    const field = createSeamField(scene({ frames, ball }));
    const [best] = searchSeams(field, limits(frames));
    expect(best.moves).toBeGreaterThan(0.35);
    expect(best.end).toBeGreaterThan(90);
  });

  it('keeps to its limits, and finds nothing where none can be met', () => {
    const frames = 100;
    const field = createSeamField(scene({ frames, ball: round(30) }));
    for (const { start, end } of searchSeams(
      field,
      limits(frames, { from: 12, to: 90, shortest: 25, longest: 35 }),
    )) {
      expect(start).toBeGreaterThanOrEqual(12);
      expect(end).toBeLessThanOrEqual(90);
      expect(end - start).toBeGreaterThanOrEqual(25);
      expect(end - start).toBeLessThanOrEqual(35);
    }
    expect(searchSeams(field, limits(frames, { shortest: 101 }))).toEqual([]);
    expect(searchSeams(field, limits(frames, { from: 50, to: 55 }))).toEqual([]);
  });

  it('gives no two candidates that are nearly the same', () => {
    const frames = 120;
    const found = searchSeams(createSeamField(scene({ frames, ball: round(30) })), limits(frames));
    for (const [i, a] of found.entries()) {
      for (const b of found.slice(0, i)) {
        const both = Math.min(a.end, b.end) - Math.max(a.start, b.start);
        const all = Math.max(a.end, b.end) - Math.min(a.start, b.start);
        expect(both / all).toBeLessThanOrEqual(0.7);
      }
    }
  });

  it('looks only at the part it is given', () => {
    // Left something turns in 30 frames, right in 40.
    const frames = 130;
    const left = scene({ frames, ball: (frame) => [16 + round(30)(frame)[0] / 4 - 8, round(30)(frame)[1]] });
    const right = scene({ frames, ball: (frame) => [48 + round(40)(frame)[0] / 4 - 8, round(40)(frame)[1]] });
    const both = left.map((value, i) => {
      const place = i % SIGNATURE_BYTES;
      return place < width * height && place % width >= 32 ? right[i] : value;
    });
    for (const [x, period] of [
      [0, 30],
      [0.5, 40],
    ]) {
      const part = { x, y: 0, width: 0.5, height: 1 };
      const moving = Uint8Array.from({ length: width * height }, (_, p) =>
        p % width >= 32 === x > 0 ? 255 : 0,
      );
      // A part of the picture, or what moves of a picture that is held: the same places here.
      const [byPart, byMask] = [createSeamField(both, { part }), createSeamField(both, { moving })];
      expect(byMask.squared(3, 17)).toBeCloseTo(byPart.squared(3, 17), 3);
      const field = byMask;
      const [best] = searchSeams(field, limits(frames, { longest: 60 }));
      expect(offPeriod(best.end - best.start, period)).toBeLessThanOrEqual(0.5);
    }
  });

  it('copes with footage of one frame, of two, and in which nothing moves', () => {
    for (const frames of [1, 2, 40]) {
      const field = createSeamField(scene({ frames, ball: () => [32, 18], grain: 0 }));
      expect(field.usualStep).toBe(0);
      for (const { score } of searchSeams(field, limits(frames, { shortest: 1 }))) expect(score).toBe(100);
    }
  });

  it('measures rows as it measures single distances', () => {
    const field = createSeamField(scene({ frames: 30, ball: round(20) }));
    const row = new Float32Array(19);
    field.squaredRow(4, 9, 19, row);
    for (let k = 0; k < 19; k++) expect(row[k]).toBeCloseTo(field.squared(4, 9 + k), 3);
  });
});

describe('frames that can go', () => {
  const frames = 60;
  const times = { starts: Array.from({ length: frames }, (_, i) => i / 25), duration: frames / 25 };
  const { items } = makeLoop(times, { start: 10, end: 50 }, 25, 1, PLAIN_LOOP);

  it('are those that repeat the one before; the first of a run stays', () => {
    // Every third frame is shown twice more.
    const signatures = scene({ frames, ball: (frame) => round(40)(Math.floor(frame / 3) * 3), grain: 2 });
    const doubles = nearDoubles(createSeamField(signatures), 0, items);
    expect(doubles.map((place) => items[place].source)).toEqual(
      items.map((item) => item.source).filter((source) => source % 3 !== 0 && source !== 10),
    );
    expect(nearDoubles(createSeamField(scene({ frames, ball: round(40) })), 0, items)).toEqual([]);
  });

  it('are the black ones', () => {
    const signatures = scene({ frames, ball: round(40) });
    for (const frame of [12, 30]) signatures.fill(4, frame * SIGNATURE_BYTES, (frame + 1) * SIGNATURE_BYTES);
    expect(blackFrames(signatures, 0, items).map((place) => items[place].source)).toEqual([12, 30]);
  });
});
