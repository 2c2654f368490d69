import { describe, expect, it } from 'vitest';
import { DRAWN_LOOK, type DrawnScene, drawnTake, drawnWall } from '../testing/drawn-looks.js';
import { seeded } from '../testing/seeded.js';
import type { FlowPlacesAsk } from './flow-places.js';
import { findFlowPlaces, isSameLoop } from './index.js';

const FRAMES = 130;
const RATE = 25;
/** Where the middle of a flow is looked at, frames before the end and before the start. */
const AHEAD = 6;
const times = { starts: Array.from({ length: FRAMES }, (_, i) => i / RATE), duration: FRAMES / RATE };
const whole = { start: 0, end: FRAMES };
const ask = (part: Partial<FlowPlacesAsk> = {}): FlowPlacesAsk => ({
  ...{ within: whole, window: whole, length: { min: 1, max: 3 }, every: 1, weights: null, ...part },
});

type Path = (t: number) => readonly [x: number, y: number];

/** A way that never comes back quite. */
function wandering(seed: number): Path {
  const random = seeded(seed);
  const waves = [0, 1, 2].map((i) => ({
    every: (17 + 13 * i) * (1 + 0.3 * random()),
    phase: 2 * Math.PI * random(),
    turn: 2 * Math.PI * random(),
  }));
  return (t) =>
    waves.reduce(
      ([x, y], { every, phase, turn }) => {
        const out = 16 * Math.sin((2 * Math.PI * t) / every + phase);
        return [x + out * Math.cos(turn), y + 0.6 * out * Math.sin(turn)] as const;
      },
      [80, 45] as readonly [number, number],
    );
}

/** Balls with something to hold on to, on a wall. */
function balls(...paths: readonly Path[]): DrawnScene {
  const wall = drawnWall(11);
  return (x, y, t) => {
    for (const path of paths) {
      const [dx, dy] = [x - path(t)[0], y - path(t)[1]];
      if (dx * dx + dy * dy < 170) return { luma: 195 + 30 * Math.sin(dx / 2) * Math.cos(dy / 2.5) };
    }
    return { luma: wall(x, y) };
  };
}

const apart = (path: Path, one: number, other: number) =>
  Math.hypot(path(one)[0] - path(other)[0], path(one)[1] - path(other)[1]);

describe('places where the end can flow into the start', () => {
  it.each([3, 8, 21])('lie where things have the least way to go (seed %i)', async (seed) => {
    const path = wandering(seed);
    const places = await findFlowPlaces(drawnTake(balls(path), FRAMES), times, ask());
    expect(places.length).toBeGreaterThan(1);
    const all: number[] = [];
    for (let start = AHEAD; start < FRAMES; start++) {
      for (let end = start + RATE; end <= Math.min(FRAMES, start + 3 * RATE); end++) {
        all.push(apart(path, end - AHEAD, start - AHEAD));
      }
    }
    const nearest = all.sort((a, b) => a - b)[Math.floor(0.08 * all.length)];
    const [best] = places;
    expect(apart(path, best.end - AHEAD, best.start - AHEAD)).toBeLessThan(nearest);
    for (const [i, place] of places.entries()) {
      expect(place.end - place.start).toBeGreaterThanOrEqual(RATE);
      expect(place.end - place.start).toBeLessThanOrEqual(3 * RATE);
      for (const other of places.slice(i + 1)) expect(isSameLoop(place, other)).toBe(false);
    }
  });

  it.each([
    ['left', 40],
    ['right', 29],
  ])('are told by what counts alone: what turns on the %s takes %i frames', async (side, period) => {
    const turning =
      (x: number, frames: number): Path =>
      (t) => [x + 20 * Math.cos((2 * Math.PI * t) / frames), 45 + 18 * Math.sin((2 * Math.PI * t) / frames)];
    const take = drawnTake(balls(turning(40, 40), turning(120, 29)), FRAMES);
    const weights = Float32Array.from({ length: DRAWN_LOOK.width * DRAWN_LOOK.height }, (_, p) =>
      p % DRAWN_LOOK.width < 80 === (side === 'left') ? 1 : 0,
    );
    const [best] = await findFlowPlaces(take, times, ask({ weights }));
    const off = (best.end - best.start) % period;
    expect(Math.min(off, period - off)).toBeLessThanOrEqual(3);
  });

  it('lie in one scene, with what flows into them, and in the span that is asked for', async () => {
    const path = wandering(5);
    const seen = balls(path);
    const take = drawnTake((x, y, t) => ({ luma: seen(x, y, t).luma * (t < 60 ? 1 : 0.4) }), FRAMES, [60]);
    const within = { start: 20, end: 125 };
    const places = await findFlowPlaces(take, times, ask({ within, length: { min: 0.8, max: 4 } }));
    expect(places.length).toBeGreaterThan(1);
    for (const { start, end } of places) {
      expect(start).toBeGreaterThanOrEqual(20);
      expect(end).toBeLessThanOrEqual(125);
      expect(end <= 60 || start - AHEAD >= 60, `${start}–${end}`).toBe(true);
    }
  });

  it('are none where the take is too short for them', async () => {
    const take = drawnTake(balls(wandering(2)), 20);
    for (const count of [2, 12, 20]) {
      const few = { starts: times.starts.slice(0, count), duration: count / RATE };
      const window = { start: 0, end: count };
      expect(await findFlowPlaces(take, few, ask({ window, within: window }))).toEqual([]);
    }
  });

  it.each([
    ['one colour', () => ({ luma: 90 })],
    ['noise', (x: number, y: number, t: number) => ({ luma: 255 * seeded(1 + x + 160 * y + 14_400 * t)() })],
  ] as [string, DrawnScene][])('are places of the take even where it shows %s', async (_, scene) => {
    for (const { start, end } of await findFlowPlaces(drawnTake(scene, FRAMES), times, ask({ every: 2 }))) {
      expect(start).toBeGreaterThanOrEqual(2 * AHEAD);
      expect(end).toBeLessThanOrEqual(FRAMES);
      expect(end - start).toBeGreaterThanOrEqual(RATE);
    }
  });

  it('are not looked for any longer once something newer is asked', async () => {
    const take = drawnTake(balls(wandering(4)), FRAMES);
    let heard = 0;
    const search = findFlowPlaces(take, times, ask(), async () => {
      heard++;
      if (heard === 3) throw new Error('Something newer.');
    });
    await expect(search).rejects.toThrow('Something newer.');
    expect(heard).toBe(3);
  });
});
