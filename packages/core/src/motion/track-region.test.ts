import { describe, expect, it } from 'vitest';
import { seeded } from '../testing/seeded.js';
import type { LumaPicture } from './luma-picture.js';
import { createRegionTracker, type TrackedRegion } from './track-region.js';

const WIDTH = 640;
const HEIGHT = 360;

/** Smooth made-up ground: a sum of waves. */
function texture(seed: number, fineness: number): (x: number, y: number) => number {
  const random = seeded(seed);
  const waves = Array.from({ length: 9 }, () => {
    const angle = random() * Math.PI * 2;
    const pace = fineness * (0.4 + random());
    return { across: Math.cos(angle) * pace, down: Math.sin(angle) * pace, from: random() * 7 };
  });
  return (x, y) =>
    120 + waves.reduce((sum, wave) => sum + 14 * Math.sin(wave.across * x + wave.down * y + wave.from), 0);
}

interface Scene {
  readonly frames: number;
  /** The middle and the half size of the followed thing at a frame, px. */
  at(frame: number): { readonly x: number; readonly y: number; readonly half: number };
  /** What covers it at some frames. */
  readonly cover?: readonly [from: number, to: number];
  readonly noise: number;
  readonly seed: number;
}

/** Samples of the thing's texture a side. */
const FINE = 200;

/** An oval thing with a texture of its own before other ground, noisy, its light changing slowly. */
function painter({ at, cover, noise, seed }: Scene): (frame: number) => LumaPicture {
  const [ground, thing] = [texture(seed, 0.05), texture(seed + 100, 0.16)];
  const grounds = Float32Array.from({ length: WIDTH * HEIGHT }, (_, p) =>
    ground(p % WIDTH, Math.floor(p / WIDTH)),
  );
  const things = Float32Array.from({ length: FINE * FINE }, (_, i) =>
    thing(((i % FINE) / FINE - 0.5) * 48, (Math.floor(i / FINE) / FINE - 0.5) * 48),
  );
  return (frame) => {
    const values = new Float32Array(WIDTH * HEIGHT);
    const random = seeded(seed * 1000 + frame);
    const { x, y, half } = at(frame);
    const light = 1 + 0.08 * Math.sin(frame / 17);
    for (let row = 0, p = 0; row < HEIGHT; row++) {
      const down = (row - y) / half;
      for (let column = 0; column < WIDTH; column++, p++) {
        const across = (column - x) / half;
        let value = grounds[p];
        if (across * across + down * down < 1) {
          const i = Math.floor(((down + 1) / 2) * FINE) * FINE + Math.floor(((across + 1) / 2) * FINE);
          value = things[i];
        }
        const isCovered = cover && frame >= cover[0] && frame < cover[1] && Math.abs(across) < 1.3;
        values[p] = (isCovered ? 60 : value) * light + (random() - 0.5) * noise;
      }
    }
    return { width: WIDTH, height: HEIGHT, values };
  };
}

/** How far each frame is off, shares of the picture's width; and which were said to be found. */
function follow(scene: Scene) {
  const regionAt = (frame: number): TrackedRegion => {
    const { x, y, half } = scene.at(frame);
    return { x: x + 0.5, y: y + 0.5, width: 2 * half, height: 2 * half };
  };
  const draw = painter(scene);
  const tracker = createRegionTracker(draw(0), regionAt(0));
  const places = [{ region: regionAt(0), isFound: true }];
  for (let frame = 1; frame < scene.frames; frame++) places.push(tracker.next(draw(frame)));
  const known = places.flatMap(({ isFound }, frame) => (isFound ? [frame] : []));
  const off = places.map((_, frame) => {
    const { x, y } = between(places, known, frame);
    const truth = regionAt(frame);
    return Math.hypot(x - truth.x, y - truth.y) / WIDTH;
  });
  return {
    off: off.slice(1),
    found: places.slice(1).map(({ isFound }) => isFound),
    grown: places.slice(1).map(({ region }, i) => region.width / regionAt(i + 1).width),
  };
}

/** Where a veil lies that has keys where the thing was found: in straight lines between them. */
function between(
  places: readonly { readonly region: TrackedRegion }[],
  known: readonly number[],
  frame: number,
): { readonly x: number; readonly y: number } {
  const before = known.filter((one) => one <= frame).at(-1) ?? known[0];
  const after = known.find((one) => one >= frame) ?? before;
  const share = after === before ? 0 : (frame - before) / (after - before);
  const [one, other] = [places[before].region, places[after].region];
  return { x: one.x + (other.x - one.x) * share, y: one.y + (other.y - one.y) * share };
}

/** The share of frames that are at most two hundredths of the width off. */
const near = (off: readonly number[]) => off.filter((one) => one <= 0.02).length / off.length;

describe('following a region', () => {
  it('stays on a thing that swings, over 120 frames (4 seeds)', () => {
    for (const seed of [1, 2, 3, 4]) {
      const { off, found } = follow({
        ...{ frames: 120, noise: 16, seed },
        at: (frame) => ({
          x: 320 + 150 * Math.sin(frame / 14),
          y: 180 + 60 * Math.cos(frame / 11),
          half: 36,
        }),
      });
      expect(near(off), `seed ${seed}`).toBeGreaterThanOrEqual(0.95);
      expect(found.filter(Boolean).length, `seed ${seed}`).toBeGreaterThanOrEqual(0.95 * off.length);
    }
  });

  it('grows along with it (3 seeds)', () => {
    for (const seed of [5, 6, 7]) {
      const { off, grown } = follow({
        ...{ frames: 120, noise: 12, seed },
        at: (frame) => ({ x: 200 + frame * 1.6, y: 150 + frame * 0.4, half: 28 + frame * 0.25 }),
      });
      expect(near(off), `seed ${seed}`).toBeGreaterThanOrEqual(0.95);
      expect(grown[118], `seed ${seed}`).toBeGreaterThan(0.9);
      expect(grown[118], `seed ${seed}`).toBeLessThan(1.1);
    }
  });

  it('is told when it is covered, and finds it again behind the cover (3 seeds)', () => {
    for (const seed of [8, 9, 10]) {
      const { off, found } = follow({
        ...{ frames: 120, noise: 12, seed },
        cover: [50, 58],
        at: (frame) => ({ x: 120 + frame * 3, y: 180 + 20 * Math.sin(frame / 9), half: 34 }),
      });
      expect(found.slice(50, 56), `seed ${seed}`).toEqual(new Array(6).fill(false));
      expect(found.slice(66), `seed ${seed}`).not.toContain(false);
      expect(near(off), `seed ${seed}`).toBeGreaterThanOrEqual(0.95);
    }
  });

  it('does not claim to find what has left the picture', () => {
    const { found } = follow({
      ...{ frames: 60, noise: 12, seed: 11 },
      at: (frame) => ({ x: 500 + frame * 6, y: 180, half: 34 }),
    });
    expect(found.slice(40)).toEqual(new Array(19).fill(false));
  });
});
