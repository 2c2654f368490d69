import { describe, expect, it } from 'vitest';
import { createFrame, type PixelFrame } from '../pixels/index.js';
import { seeded } from '../testing/seeded.js';
import { FREED, HELD } from './cell-problem.js';
import { findLengths } from './find-length.js';
import { jointFigures, weaveFigures } from './joint-figures.js';
import { jointSpread, livingPart, makeWeave, tablesOf } from './make-weave.js';
import { createPlanes, putFrame } from './planes.js';
import { choosePlateFrame } from './statistics.js';
import { cellFrames, meltOf, STILL, type Weave, weaveFrames, weaveShares } from './weave.js';
import { measureWeave } from './woven-seam.js';
import { lookAtCells, type WovenTake } from './woven-take.js';

const SIZE = { width: 160, height: 64 };
const SECONDS = 1 / 25;

/** A light that breathes: a soft spot that grows and dims. @param level of it at a frame, −1 … 1. */
interface Spot {
  readonly x: number;
  readonly y: number;
  readonly level: (t: number) => number;
}

const sine =
  (period: number, phase = 0) =>
  (t: number) =>
    Math.sin((2 * Math.PI * (t + phase)) / period);

function draw(count: number, spots: readonly Spot[], grain = 0, seed = 1): PixelFrame[] {
  const random = seeded(seed);
  return Array.from({ length: count }, (_, t) => {
    const frame = createFrame(SIZE.width, SIZE.height);
    for (let y = 0, i = 0; y < SIZE.height; y++) {
      for (let x = 0; x < SIZE.width; x++, i += 4) {
        let level = 110 + 20 * Math.sin(x / 5) * Math.cos(y / 7);
        for (const spot of spots) {
          const far = ((x - spot.x) ** 2 + (y - spot.y) ** 2) / 100;
          level += 60 * Math.exp(-far) * spot.level(t);
        }
        level += grain * (random() + random() - 1);
        frame.rgba.fill(Math.max(0, Math.min(255, Math.round(level))), i, i + 3);
        frame.rgba[i + 3] = 255;
      }
    }
    return frame;
  });
}

function lookAt(frames: readonly PixelFrame[], first = 0): WovenTake {
  const planes = createPlanes(frames[0], frames.length + 1);
  for (const [i, frame] of frames.entries()) putFrame(planes, i, frame);
  const plate = choosePlateFrame(planes);
  putFrame(planes, frames.length, frames[plate]);
  return lookAtCells(planes, first, first + plate);
}

function weave(take: WovenTake, length: number, liveliness = 16, decided: Uint8Array | null = null) {
  const tables = tablesOf(take, length);
  if (!tables) throw new Error('The take is too short for this test.');
  return makeWeave(take, tables, { liveliness, decided }, take.firstFrame, 'test');
}

const cellAt = ({ cols }: Pick<Weave, 'cols'>, x: number, y: number) =>
  Math.floor(y / 8) * cols + Math.floor(x / 8);

const LEFT = { x: 24, y: 32 };
const RIGHT = { x: 72, y: 32 };

describe('a weave of parts with periods of their own', () => {
  const left = { ...LEFT, level: sine(20) };
  const right = { ...RIGHT, level: sine(30, 7) };
  const frames = draw(150, [left, right], 4);

  it('shows every part without a jump, and the ground still', () => {
    const take = lookAt(frames, 100);
    const made = weave(take, 60);
    const { starts, melts, length, first } = made.weave;
    expect([length, first]).toEqual([60, 100]);
    for (const { x, y } of [LEFT, RIGHT]) expect(starts[cellAt(made.weave, x, y)]).not.toBe(STILL);
    expect(starts[starts.length - 1]).toBe(STILL);
    expect(Math.max(...melts)).toBeLessThanOrEqual(6);
    expect(made.energy).toBeLessThan(2);
    const figures = weaveFigures(take, made.weave);
    expect(figures.step).toBeLessThan(1.7);
    expect(measureWeave(take, made.weave, SECONDS).score).toBeGreaterThan(90);
  });

  it('finds their common length among all', () => {
    const { planes } = lookAt(frames);
    const lengths = findLengths(planes, 24, 100);
    expect(lengths.map(({ length }) => length)).toEqual(
      [...lengths.map(({ length }) => length)].sort((a, b) => a - b),
    );
    const [best] = [...lengths].sort((a, b) => a.energy - b.energy);
    expect(best.length).toBe(60);
    expect(findLengths(planes, 140, 150)).toEqual([]);
  });

  it('lets each part start where it comes back, when no start suits both', () => {
    // Both come back after 40 frames, each only from one stretch of the take.
    const once = (from: number) => (t: number) =>
      t < from
        ? 0.02 * (t - from)
        : t < from + 52
          ? sine(40)(t - from)
          : sine(40)(52) - 0.02 * (t - from - 52);
    const take = lookAt(
      draw(150, [
        { ...LEFT, level: once(10) },
        { ...RIGHT, level: once(70) },
      ]),
    );
    const { weave: made } = weave(take, 40, 64);
    const [a, b] = [LEFT, RIGHT].map(({ x, y }) => made.starts[cellAt(made, x, y)]);
    expect(a).toBeGreaterThanOrEqual(8);
    expect(a).toBeLessThanOrEqual(24);
    expect(b).toBeGreaterThanOrEqual(68);
    expect(b).toBeLessThanOrEqual(84);
    expect(jointSpread(made)).toBeGreaterThan(1);
  });

  it('lets a part come back sooner than the common round, where it does', () => {
    // It swings every 20 frames for a while, too short for a round of 60.
    const swings = (t: number) => (t < 40 ? 1.6 + 0.002 * t : t < 78 ? sine(20)(t - 40) : -1.5 - 0.002 * t);
    const take = lookAt(
      draw(150, [
        { ...LEFT, level: sine(60) },
        { ...RIGHT, level: swings },
      ]),
    );
    const { weave: made, energy } = weave(take, 60, 64);
    expect(energy).toBeGreaterThan(0.5);
    expect(made.rounds[cellAt(made, LEFT.x, LEFT.y)]).toBe(1);
    expect(made.rounds[cellAt(made, RIGHT.x, RIGHT.y)]).toBe(3);
    expect(made.starts[cellAt(made, RIGHT.x, RIGHT.y)]).toBeGreaterThanOrEqual(38);
  });

  it('does not turn a pendulum about at its joint', () => {
    // After 31 frames the place is the same again, and the way is the other.
    const take = lookAt(draw(140, [{ ...LEFT, level: sine(72) }]));
    const off = weave(take, 31, 64);
    const on = weave(take, 72, 64);
    expect(off.energy).toBeGreaterThan(4 * on.energy);
    expect(weaveFigures(take, on.weave).bend).toBeLessThan(1.6);
  });

  it('moves less the less is asked for, and all that is set free', () => {
    // What grows as well never quite comes back.
    const grows = { ...RIGHT, level: (t: number) => t / 100 - 0.75 + 0.25 * sine(12)(t) };
    const take = lookAt(draw(150, [left, grows]));
    const moving = [2, 8, 64].map((liveliness) => weave(take, 60, liveliness).moving);
    expect(moving[0]).toBeLessThanOrEqual(moving[1]);
    expect(moving[1]).toBeLessThanOrEqual(moving[2]);
    expect(moving[2]).toBeGreaterThan(moving[0]);
    const freed = new Uint8Array(take.grid.cols * take.grid.rows).fill(FREED);
    expect(weave(take, 60, 2, freed).moving).toBe(1);
    const held = freed.map((_, cell) => (cell % take.grid.cols < 6 ? HELD : 0));
    const { weave: half } = weave(take, 60, 64, held);
    for (let cell = 0; cell < held.length; cell++)
      if (held[cell] === HELD) expect(half.starts[cell]).toBe(STILL);
  });

  it('finds the living part under a click, and no other', () => {
    const take = lookAt(frames);
    const touched = new Uint8Array(take.grid.cols * take.grid.rows);
    touched[cellAt(take.grid, LEFT.x, LEFT.y)] = 255;
    const part = livingPart(take, touched);
    expect(part[cellAt(take.grid, LEFT.x + 8, LEFT.y)]).toBe(255);
    expect(part[cellAt(take.grid, RIGHT.x, RIGHT.y)]).toBe(0);
    const ground = new Uint8Array(touched.length);
    ground[0] = 255;
    expect(livingPart(take, ground)).toEqual(ground);
  });

  it('holds everything where nothing moves, and where there is only noise', () => {
    for (const grain of [0, 12]) {
      const take = lookAt(draw(80, [], grain));
      const made = weave(take, 40);
      expect(made.moving).toBe(0);
      expect(jointSpread(made.weave)).toBe(0);
      expect(measureWeave(take, made.weave, SECONDS).score).toBeGreaterThan(99);
    }
  });

  it('has no tables for lengths that the take cannot hold', () => {
    const take = lookAt(draw(40, [left]));
    expect(tablesOf(take, 27)).not.toBeNull();
    expect(tablesOf(take, 28)).toBeNull();
  });

  it('is the same each time, and as good in finer cells', () => {
    const [once, again] = [weave(lookAt(frames), 60), weave(lookAt(frames), 60)];
    expect(once).toEqual(again);
    const planes = createPlanes(SIZE, frames.length + 1);
    for (const [i, frame] of [...frames, frames[0]].entries()) putFrame(planes, i, frame);
    const fine = weave(lookAtCells(planes, 0, 0, 4), 60);
    expect(fine.weave.cols).toBe(40);
    expect(fine.energy).toBeLessThan(1.5);
  });

  it('bears the smallest pictures', () => {
    const tiny = Array.from({ length: 40 }, (_, t) => {
      const frame = createFrame(2, 2);
      frame.rgba.fill(120 + 60 * Math.sin(t / 3));
      return frame;
    });
    const made = weave(lookAt(tiny), 20);
    expect(made.weave.starts).toHaveLength(1);
  });
});

/** A weave by chance. */
function anyWeave(seed: number): Weave {
  const random = seeded(seed);
  const [cols, rows, length] = [7, 5, 36];
  const cells = Array.from({ length: cols * rows }, () => random());
  return {
    ...{ id: 'any', length, first: 20, from: 10, to: 90, cols, rows, across: 6.5, down: 4.75, plate: 33 },
    starts: cells.map((chance) => (chance < 0.3 ? STILL : 16 + Math.floor(random() * (80 - length - 6)))),
    rounds: cells.map(() => [1, 2, 3][Math.floor(random() * 3)]),
    melts: cells.map(() => 2 * Math.floor(random() * 7)),
  };
}

describe('what a weave shows', () => {
  it.each([1, 2, 3, 4])('is one whole in every cell at every place (seed %i)', (seed) => {
    const weave = anyWeave(seed);
    for (let place = 0; place < weave.length; place++) {
      const shown = weaveShares(weave, weave.first + place);
      for (let cell = 0; cell < 35; cell++) {
        expect(shown.reduce((sum, { shares }) => sum + shares[cell], 0)).toBeCloseTo(1, 6);
        for (const { shares } of shown) expect(shares[cell]).toBeGreaterThanOrEqual(0);
      }
      const frames = weaveFrames(weave, weave.first + place);
      for (const { frame } of shown) if (frame !== STILL) expect(frames).toContain(frame);
      for (const frame of frames) expect(frame >= 10 && frame < 90).toBe(true);
    }
  });

  it.each([5, 6])(
    'runs on frame by frame but for one change-over a round, and comes back (seed %i)',
    (seed) => {
      const weave = anyWeave(seed);
      for (let cell = 0; cell < 35; cell++) {
        if (weave.starts[cell] === STILL) continue;
        const round = weave.length / weave.rounds[cell];
        const at = (place: number) => cellFrames(weave, cell, weave.first + place).frame;
        let changes = 0;
        for (let place = 0; place < weave.length; place++) {
          const step = at(place + 1) - at(place);
          if (step !== 1) {
            changes++;
            expect(step).toBe(1 - round);
            expect(at(place + 1)).toBe(weave.starts[cell]);
          }
        }
        expect(changes).toBe(weave.rounds[cell]);
        expect(at(weave.length)).toBe(at(0));
      }
    },
  );

  it('melts evenly from the end of a round into its start', () => {
    const base = anyWeave(1);
    const weave = {
      ...base,
      starts: base.starts.map(() => 30),
      rounds: base.rounds.map(() => 1),
      melts: base.melts.map(() => 8),
    };
    // How much is shown of the round that goes on, around the change-over at place 10.
    const old = [4, 5, 6, 7, 8, 9, 10, 11, 12, 13, 14].map((place) => {
      const { frame, other, share } = cellFrames(weave, 0, 20 + place);
      const isNew = frame < 50;
      return Number((isNew ? (other > frame ? share : 0) : 1 - share).toFixed(4));
    });
    expect(old).toEqual([1, 1, 0.875, 0.75, 0.625].slice(0, 2).concat(old.slice(2)));
    for (let k = 1; k < old.length; k++) expect(old[k]).toBeLessThanOrEqual(old[k - 1]);
    expect(old[0]).toBe(1);
    expect(old[old.length - 1]).toBe(0);
    expect(old.filter((share) => share > 0 && share < 1).length).toBeGreaterThanOrEqual(7);
  });

  it('melts longer the further a jump is, up to a bound, and not at all where none is seen', () => {
    const melts = [0, 0.05, 0.5, 2, 4, 16, 400].map(meltOf);
    expect(melts[0]).toBe(0);
    expect(melts).toEqual([...melts].sort((a, b) => a - b));
    expect(melts.at(-1)).toBe(12);
    for (const melt of melts) expect(melt % 2).toBe(0);
  });
});

describe('the seam of a weave', () => {
  const left = { ...LEFT, level: sine(20) };
  const right = { ...RIGHT, level: sine(30, 7) };
  const take = lookAt(draw(150, [left, right], 4));

  it('is not seen where every part comes back, and is where a part is cut or melts', () => {
    const made = weave(take, 60).weave;
    const unnoticed = measureWeave(take, made, SECONDS);
    expect(unnoticed.score).toBeGreaterThan(95);
    // The same weave, every part started where it stands, and gone round in five sixths of its time.
    const starts = made.starts.map((start) => (start === STILL ? STILL : made.first + 40));
    const rounds = made.rounds.map(() => 1);
    const cut: Weave = { ...made, starts, rounds, length: 25, melts: made.melts.map(() => 0) };
    const leapt = measureWeave(take, cut, SECONDS);
    expect(leapt.score).toBeLessThan(unnoticed.score - 20);
    expect(leapt.fault).not.toBe('ghost');
    const melted = measureWeave(take, { ...cut, melts: made.melts.map(() => 12) }, SECONDS);
    expect(melted.figures.ghost).toBeGreaterThan(0.5);
    expect(leapt.figures.ghost).toBe(0);
    expect(melted.figures.jump).toBeLessThan(leapt.figures.jump);
  });

  it('is seen where it lies', () => {
    const made = weave(take, 60).weave;
    // Only what lies at the left is cut.
    const isLeft = (cell: number) => (cell % made.cols) * 8 < SIZE.width * 0.3;
    const starts = made.starts.map((start, cell) =>
      isLeft(cell) && start !== STILL ? made.first + 40 : start,
    );
    const rounds = made.rounds.map((round, cell) => (isLeft(cell) ? 1 : round));
    const off = lookAt(draw(150, [{ ...left, level: sine(47) }, right], 4));
    const { map } = measureWeave(off, { ...made, starts, rounds, melts: made.melts.map(() => 0) }, SECONDS);
    const share = (from: number, to: number) => {
      let most = 0;
      for (const [b, value] of map.values.entries()) {
        const x = ((b % map.columns) + 0.5) / map.columns;
        if (x >= from && x < to) most = Math.max(most, value);
      }
      return most;
    };
    expect(share(0, 0.35)).toBeGreaterThan(3 * share(0.65, 1));
  });
});

describe('the figures of a joint', () => {
  const frames = draw(120, [{ ...LEFT, level: sine(40) }], 3);
  const take = lookAt(frames);
  const reel = (from: number, length: number) => {
    const planes = createPlanes(SIZE, length);
    for (let t = 0; t < length; t++) putFrame(planes, t, frames[from + t]);
    return jointFigures(take, planes);
  };

  it('see nothing where the footage comes back by itself', () => {
    const figures = reel(10, 40);
    expect(figures.step).toBeLessThan(1.6);
  });

  it('see a jump, and a movement that turns about', () => {
    const jump = reel(10, 27);
    expect(jump.step).toBeGreaterThan(2.5);
    // Around a turning point both ends are alike, and the way is the other.
    const turned = reel(5, 30);
    expect(turned.bend).toBeGreaterThan(1.5 * reel(10, 40).bend);
  });
});
