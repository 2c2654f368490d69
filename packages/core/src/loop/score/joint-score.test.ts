import { describe, expect, it } from 'vitest';
import { DRAWN_LOOK, type DrawnScene, drawnLooks, drawnWall } from '../../testing/drawn-looks.js';
import { seeded } from '../../testing/seeded.js';
import type { Reel } from '../../timing/index.js';
import { createMovementFinder, type Looks } from '../looks/index.js';
import { makeLoop, PLAIN_LOOP } from '../loop-reel.js';
import { closedReel, measureJoint, planJoint } from './index.js';

const SIZE = DRAWN_LOOK;
const DELAY_CS = 8;

const ring = (t: number, period: number) => (2 * Math.PI * t) / period;
const isIn = (x: number, y: number, [cx, cy]: readonly [number, number], r: number) =>
  (x - cx) ** 2 + (y - cy) ** 2 < r * r;

/** A ball on its way around, once in `period` frames. */
const ball = (period: number, seed = 5): DrawnScene => {
  const wall = drawnWall(seed);
  return (x, y, t) => {
    const [cx, cy] = [80 + 40 * Math.cos(ring(t, period)), 45 + 22 * Math.sin(ring(t, period))];
    return { luma: isIn(x, y, [cx, cy], 14) ? 205 + 2 * (x - cx) + (y - cy) : wall(x, y) };
  };
};

/** Luma that is another everywhere in every frame, and hangs together over a few px and frames. */
function flickering(seed: number): DrawnScene {
  const random = seeded(seed);
  const lattice = Float32Array.from({ length: 64 * 64 * 64 }, () => random());
  const at = (x: number, y: number, t: number) => lattice[((t & 63) * 64 + (y & 63)) * 64 + (x & 63)];
  const softly = (a: number, b: number, share: number) => a + (b - a) * share;
  return (x, y, t) => {
    const [u, v, w] = [x / 4, y / 4, t / 1.6];
    const [i, j, k] = [u, v, w].map(Math.floor);
    const plane = (z: number) =>
      softly(
        softly(at(i, j, z), at(i + 1, j, z), u - i),
        softly(at(i, j + 1, z), at(i + 1, j + 1, z), u - i),
        v - j,
      );
    return { luma: 90 + 80 * softly(plane(k), plane(k + 1), w - k) };
  };
}

const cutOf = (start: number, end: number): Reel =>
  Array.from({ length: end - start }, (_, i) => ({ source: start + i, delayCs: DELAY_CS }));

function crossfadeOf(start: number, end: number, frames: number): Reel {
  const length = end - start;
  return cutOf(start, end).map((pick, t) => {
    const n = t - (length - frames);
    if (n < 0) return pick;
    return { ...pick, blend: { source: pick.source - length, share: (n + 1) / (frames + 1) } };
  });
}

const thereAndBackOf = (start: number, end: number): Reel => {
  const there = cutOf(start, end);
  return [...there, ...there.slice(1, -1).reverse()];
};

function score(looks: Looks, round: Reel, turn: number | null = null, weights: Float32Array | null = null) {
  const measured = measureJoint(looks, createMovementFinder(SIZE), { round, turn }, weights);
  if (!measured) throw new Error('A frame was not at hand.');
  return measured;
}

/** The place of the picture where a map says most, px. */
function worstPlace({ columns, rows, values }: ReturnType<typeof score>['map']): readonly [number, number] {
  const worst = values.indexOf(Math.max(...values));
  const side = SIZE.width / columns;
  expect(rows).toBe(Math.ceil(SIZE.height / side));
  return [((worst % columns) + 0.5) * side, (Math.floor(worst / columns) + 0.5) * side];
}

describe('the score of a joint', () => {
  it('does not see one where the end meets the start, nor where all stands still', () => {
    expect(score(drawnLooks(ball(80)), cutOf(20, 100)).score).toBeGreaterThan(97);
    expect(score(drawnLooks(ball(80)), crossfadeOf(20, 100, 8)).score).toBeGreaterThan(97);
    expect(
      score(
        drawnLooks(() => ({ luma: 128 })),
        cutOf(20, 50),
      ).score,
    ).toBeGreaterThan(99);
    expect(
      score(
        drawnLooks(() => ({ luma: 128 })),
        crossfadeOf(20, 50, 6),
      ).score,
    ).toBeGreaterThan(99);
  });

  it('sees a ghost in a crossfade of something that is elsewhere, and where', () => {
    const half = score(drawnLooks(ball(80)), crossfadeOf(30, 70, 8));
    expect(half.fault).toBe('ghost');
    expect(half.score).toBeLessThan(40);
    // In the middle of the crossfade it lies at frames 66 and 26 of its way.
    const [x, y] = worstPlace(half.map);
    const near = [66, 26].some(
      (t) => Math.hypot(x - 80 - 40 * Math.cos(ring(t, 80)), y - 45 - 22 * Math.sin(ring(t, 80))) < 24,
    );
    expect(near).toBe(true);
    const far = half.map.values.filter((_, b) => b % half.map.columns === 0);
    expect(Math.max(...far)).toBeLessThan(0.2);
  });

  it('sees more of a ghost the further apart both lie, and none where they are the same', () => {
    const wall = drawnWall(6);
    const scores = [0, 0.7, 2, 5].map((shift) => {
      // The loop’s end and what lies before its start show the same wall, one of them shifted.
      const scene: DrawnScene = (x, y, t) => ({ luma: wall(t < 50 ? x : x + shift, y) });
      return score(drawnLooks(scene), crossfadeOf(30, 80, 8)).score;
    });
    expect(scores).toEqual([...scores].sort((one, other) => other - one));
    expect(scores[0]).toBeGreaterThan(99);
    expect(scores[1]).toBeGreaterThan(90);
    expect(scores[3]).toBeLessThan(50);
  });

  it('sees something of the same brightness by its colour', () => {
    const coloured = (red: number): DrawnScene => {
      const still = drawnWall(8);
      return (x, y, t) => {
        const shown = isIn(x, y, [40 + 0.9 * t, 45], 12);
        return { luma: still(x, y), red: shown ? red : 0 };
      };
    };
    const [grey, orange] = [0, 70].map((red) => score(drawnLooks(coloured(red)), crossfadeOf(30, 90, 8)));
    expect(grey.score).toBeGreaterThan(97);
    expect(orange.fault).toBe('ghost');
    expect(orange.score).toBeLessThan(75);
  });

  it.each([1, 2, 3])('sees no ghosts in what changes everywhere by itself (seed %i)', (seed) => {
    const flicker = score(drawnLooks(flickering(seed)), crossfadeOf(30, 70, 6));
    // The same pictures, each of which stays: what hid the ghost is gone.
    const scene = flickering(seed);
    const slow = score(
      drawnLooks((x, y, t) => scene(x, y, t < 50 ? 3 : 40)),
      crossfadeOf(30, 70, 6),
    );
    expect(flicker.score).toBeGreaterThan(85);
    expect(slow.score).toBeLessThan(flicker.score - 30);
  });

  it('sees a leap at a cut, and a smaller one less', () => {
    const looks = drawnLooks(ball(80));
    const [far, near, none] = [30, 3, 0].map((off) => score(looks, cutOf(5, 85 + off)));
    expect(far.score).toBeLessThan(50);
    expect(near.score).toBeGreaterThan(far.score);
    expect(none.score).toBeGreaterThan(near.score);
  });

  it('is of a turn by how much moves there', () => {
    const wall = drawnWall(4);
    // A swing that rests at its ends: at frames 0, 20, 40 …
    const swing: DrawnScene = (x, y, t) => ({ luma: wall(x + 16 * Math.cos(ring(t, 40)), y) });
    const looks = drawnLooks(swing);
    const atRest = score(looks, thereAndBackOf(20, 41), 20);
    const inFlight = score(looks, thereAndBackOf(30, 51), 20);
    expect(atRest.score).toBeGreaterThan(90);
    expect(inFlight.score).toBeLessThan(atRest.score - 12);
    expect(inFlight.fault).toBe('bend');
  });

  it('sees the far turn of a way there and back as well', () => {
    const wall = drawnWall(4);
    // It rests at first, then moves on.
    const leaving: DrawnScene = (x, y, t) => ({ luma: wall(x + (t < 30 ? 0 : 1.8 * (t - 30)), y) });
    const looks = drawnLooks(leaving);
    const far = score(looks, thereAndBackOf(20, 50), 29);
    expect(far.fault).toBe('bend');
    expect(far.score).toBeLessThan(score(looks, thereAndBackOf(5, 28), 22).score - 15);
  });

  it('takes a rest at a turn for what it is', () => {
    const wall = drawnWall(4);
    const looks = drawnLooks((x, y, t) => ({ luma: wall(x + 1.8 * t, y) }));
    const round = thereAndBackOf(30, 51);
    const rested = round.map((pick, i) => (i === 0 || i === 20 ? { ...pick, delayCs: 60 } : pick));
    expect(score(looks, rested, 20).score).toBeGreaterThan(score(looks, round, 20).score + 12);
  });

  it('counts only what is asked about', () => {
    const looks = drawnLooks(ball(80));
    const round = crossfadeOf(30, 70, 8);
    const only = (isCounted: (x: number) => boolean) =>
      Float32Array.from({ length: SIZE.width * SIZE.height }, (_, p) => (isCounted(p % SIZE.width) ? 1 : 0));
    const away = score(
      looks,
      round,
      null,
      only((x) => x < 16),
    );
    const all = score(
      looks,
      round,
      null,
      only(() => true),
    );
    expect(away.score).toBeGreaterThan(97);
    expect(all).toEqual(score(looks, round));
  });

  it('is hardly another for a mirrored picture or a reversed take', () => {
    const scene = ball(80);
    const round = crossfadeOf(30, 70, 8);
    const { score: as } = score(drawnLooks(scene), round);
    const mirrored: DrawnScene = (x, y, t) => scene(SIZE.width - 1 - x, y, t);
    expect(Math.abs(score(drawnLooks(mirrored), round).score - as)).toBeLessThan(8);
    const backwards: DrawnScene = (x, y, t) => scene(x, y, 119 - t);
    const reversed = round.map(({ source, blend, ...pick }) => ({
      ...pick,
      source: 119 - source,
      ...(blend && { blend: { ...blend, source: 119 - blend.source } }),
    }));
    expect(score(drawnLooks(backwards), reversed).score).toBeCloseTo(as, 6);
  });

  it('lets no cut of the scene hide a leap', () => {
    const before = ball(80, 5);
    const after = drawnWall(77);
    // The loop ends with its scene: what follows its last frame is another one.
    const looks = drawnLooks((x, y, t) => (t < 60 ? before(x, y, t) : { luma: 255 - after(x, y) }));
    const withoutCut = score(drawnLooks(before), cutOf(20, 60)).score;
    expect(withoutCut).toBeLessThan(60);
    expect(score(looks, cutOf(20, 60)).score).toBeLessThan(withoutCut + 5);
  });

  it('is not known where frames are missing, and looks at no others than those that were planned', () => {
    const round = crossfadeOf(30, 70, 8);
    const looks = drawnLooks(ball(80));
    score(looks, round);
    const planned = planJoint({ round, turn: null }).frames;
    expect([...looks.asked].sort((a, b) => a - b)).toEqual(planned);
    const lacking: Looks = { at: (frame) => (frame === 27 ? null : looks.at(frame)) };
    expect(measureJoint(lacking, createMovementFinder(SIZE), { round, turn: null })).toBeNull();
    const nothing: Looks = { at: () => null };
    expect(measureJoint(nothing, createMovementFinder(SIZE), { round, turn: null })).toBeNull();
  });

  it('can be had at both ends of a take', () => {
    expect(score(drawnLooks(ball(80), 80), cutOf(0, 80)).score).toBeGreaterThan(90);
    expect(score(drawnLooks(ball(80), 3), cutOf(0, 3)).score).toBeLessThanOrEqual(100);
  });
});

describe('the plan of a joint', () => {
  const plan = (round: Reel, turn: number | null = null) => planJoint({ round, turn });

  it('has the steps over the joint, around all that is mixed, and over a turn', () => {
    expect(plan(cutOf(10, 30)).steps).toEqual([0, 18, 19]);
    expect(plan(crossfadeOf(10, 30, 4)).steps).toEqual([0, 14, 15, 16, 17, 18, 19]);
    expect(plan(thereAndBackOf(10, 30), 19).steps).toEqual([0, 18, 19, 36, 37]);
    const byHand: Reel = cutOf(10, 30).map((pick, i) =>
      i === 7 ? { ...pick, blend: { source: 40, share: 0.5 } } : pick,
    );
    expect(plan(byHand).steps).toEqual([0, 5, 6, 7, 8, 18, 19]);
  });

  it('learns what the footage does in the steps of the reel, in its direction', () => {
    const everyThird: Reel = Array.from({ length: 20 }, (_, i) => ({ source: 30 + 3 * i, delayCs: 12 }));
    for (const [round, step] of [
      [everyThird, 3],
      [[...everyThird].reverse(), -3],
    ] as const) {
      for (const [first, second, third] of plan(round).own) {
        expect([second - first, third - second]).toEqual([step, step]);
      }
    }
  });

  it('goes the way of a slowed reel, which shows most frames more than once', () => {
    const slowed: Reel = Array.from({ length: 30 }, (_, i) => ({
      source: 60 - Math.floor(i / 3),
      delayCs: 4,
    }));
    for (const [first, second] of plan(slowed).natural.flat()) expect(second - first).toBe(-1);
  });

  it('is of one round of a loop that is repeated, and knows where that turns', () => {
    const times = { starts: Array.from({ length: 40 }, (_, i) => i / 25), duration: 1.6 };
    const made = (join: (typeof PLAIN_LOOP)['join']) =>
      closedReel(makeLoop(times, { start: 5, end: 15 }, 'source', 1, { ...PLAIN_LOOP, join, repeats: 3 }));
    expect(made({ kind: 'cut' })).toMatchObject({ round: { length: 10 }, turn: null });
    expect(made({ kind: 'there-and-back' })).toMatchObject({ round: { length: 18 }, turn: 9 });
  });

  it('learns nothing from frames that are mixed', () => {
    const own = plan(crossfadeOf(20, 32, 10))
      .own.slice(0, -5)
      .flat();
    expect(own.every((frame) => frame < 22)).toBe(true);
  });

  it.each([1, 2, 3])('can be made of a round of %i frames', (frames) => {
    const { steps, places, count } = plan(cutOf(5, 5 + frames));
    expect(count).toBe(frames);
    for (const place of [...steps, ...places]) expect(place).toBeLessThan(frames);
  });
});
