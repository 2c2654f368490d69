import type { Look, Looks, MeasuredTake } from '../loop/index.js';
import { createMovementFinder } from '../loop/index.js';
import { seeded } from './seeded.js';

/** The size of drawn looks. */
export const DRAWN_LOOK = { width: 160, height: 90 };
const HALF = { width: 80, height: 45 };

/** Luma and colour of a place. */
export type DrawnScene = (
  x: number,
  y: number,
  t: number,
) => { readonly luma: number; readonly red?: number };

function lookOf(scene: DrawnScene, t: number): Look {
  const luma = new Float32Array(DRAWN_LOOK.width * DRAWN_LOOK.height);
  const red = new Float32Array(HALF.width * HALF.height);
  for (let y = 0, p = 0; y < DRAWN_LOOK.height; y++) {
    for (let x = 0; x < DRAWN_LOOK.width; x++, p++) {
      const place = scene(x, y, t);
      luma[p] = place.luma;
      red[(y >> 1) * HALF.width + (x >> 1)] += (place.red ?? 0) / 4;
    }
  }
  const plain = new Float32Array(red.length);
  return {
    luma: { ...DRAWN_LOOK, values: luma },
    blue: { ...HALF, values: plain },
    red: { ...HALF, values: red },
  };
}

/** A take that is drawn as it is looked at, and what was looked at. */
export function drawnLooks(scene: DrawnScene, frames = 120): Looks & { readonly asked: Set<number> } {
  const made = new Map<number, Look>();
  const asked = new Set<number>();
  return {
    asked,
    at(frame) {
      asked.add(frame);
      if (frame < 0 || frame >= frames) return null;
      const look = made.get(frame) ?? lookOf(scene, frame);
      made.set(frame, look);
      return look;
    },
  };
}

/** A drawn take to measure joints on. @param cuts first frames of other scenes. */
export function drawnTake(scene: DrawnScene, frames = 120, cuts: readonly number[] = []): MeasuredTake {
  const looks = drawnLooks(scene, frames);
  return { looks, load: async () => {}, finder: createMovementFinder(DRAWN_LOOK), cuts };
}

/** A wall that stands still, with something to see at several scales. */
export function drawnWall(seed: number): (x: number, y: number) => number {
  const random = seeded(seed);
  const waves = Array.from({ length: 14 }, (_, i) => {
    const turn = 2 * Math.PI * random();
    const length = 7 * 1.25 ** i;
    const [x, y] = [Math.cos(turn), Math.sin(turn)].map((part) => (2 * Math.PI * part) / length);
    return { x, y, phase: 2 * Math.PI * random() };
  });
  return (x, y) => waves.reduce((sum, wave) => sum + 4 * Math.sin(wave.x * x + wave.y * y + wave.phase), 120);
}
