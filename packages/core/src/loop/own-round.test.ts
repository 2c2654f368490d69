import { describe, expect, it } from 'vitest';
import { SIGNATURE_BYTES, SIGNATURE_SIZE } from '../motion/index.js';
import { drawnTake, drawnWall } from '../testing/drawn-looks.js';
import { seeded } from '../testing/seeded.js';
import { makeReel } from '../timing/index.js';
import {
  createSeamField,
  findCommonRound,
  measureClosing,
  type OwnRound,
  ownClosedReel,
  ownReel,
  ownSpeed,
  type SeamField,
} from './index.js';

const times = { starts: Array.from({ length: 240 }, (_, i) => i / 25), duration: 9.6 };
/** 48 frames of two source frames each. */
const round = makeReel(times, { start: 60, end: 156 }, 12.5);

/**
 * Balls that go round side by side, each with a period of its own; one field for the part of the picture of
 * each.
 */
function pendulums(count: number, periods: readonly number[], seed: number): SeamField[] {
  const { width, height } = SIGNATURE_SIZE;
  const random = seeded(seed);
  const values = new Float32Array(count * SIGNATURE_BYTES).fill(128);
  const across = width / periods.length;
  for (let frame = 0; frame < count; frame++) {
    for (let p = 0; p < width * height; p++) {
      const [x, y] = [p % width, Math.floor(p / width)];
      const part = Math.floor(x / across);
      const turn = (2 * Math.PI * frame) / periods[part];
      const [bx, by] = [across * (part + 0.5) + 7 * Math.cos(turn), height / 2 + 9 * Math.sin(turn)];
      const near = Math.max(0, 1 - Math.hypot(x - bx, y - by) / 6);
      values[frame * SIGNATURE_BYTES + p] = 80 + 120 * near + random();
    }
  }
  return periods.map((_, part) => {
    const moving = Uint8Array.from({ length: width * height }, (_, p) =>
      Math.floor((p % width) / across) === part ? 255 : 0,
    );
    return createSeamField(
      { count, stride: SIGNATURE_BYTES, values, taken: new Float32Array(3 * count) },
      { moving },
    );
  });
}

describe('a region with a round of its own', () => {
  it('goes round a whole number of times while the reel goes round once, at the reel’s delays', () => {
    const own = ownReel(
      times,
      round,
      { span: { start: 100, end: 132 }, join: { kind: 'cut' }, rounds: 3 },
      false,
    );
    expect(own.map((pick) => pick.delayCs)).toEqual(round.map((pick) => pick.delayCs));
    for (const [place, { source }] of own.entries()) expect(source).toBe(100 + ((2 * place) % 32));
    expect(
      ownSpeed(times, round, { span: { start: 100, end: 132 }, join: { kind: 'cut' }, rounds: 3 }),
    ).toBeCloseTo(1, 2);
  });

  it('is slowed and hurried evenly where its length does not divide the reel’s', () => {
    const own = { span: { start: 100, end: 130 }, join: { kind: 'cut' as const }, rounds: 3 };
    expect(ownSpeed(times, round, own)).toBeCloseTo(90 / 96, 2);
    const sources = ownReel(times, round, own, false).map((pick) => pick.source);
    for (const [i, source] of sources.entries()) {
      const step = (sources[(i + 1) % sources.length] - source + 30) % 30;
      expect(step === 1 || step === 2).toBe(true);
    }
  });

  it('melts into what lies before its own start, so that the last frame runs into the first', () => {
    const join = { kind: 'crossfade' as const, frames: 4 };
    const own = ownReel(times, round, { span: { start: 100, end: 132 }, join, rounds: 3 }, false);
    const blends = own.slice(0, 16).map(({ source, blend }) => blend && [source - blend.source, blend.share]);
    expect(blends.slice(0, 12)).toEqual(Array(12).fill(undefined));
    for (const [n, blend] of blends.slice(12).entries()) {
      expect(blend?.[0]).toBe(32);
      expect(blend?.[1]).toBeCloseTo((n + 1) / 5, 6);
    }
  });

  it('does not melt further back than the take goes', () => {
    const join = { kind: 'crossfade' as const, frames: 10 };
    const own = ownReel(times, round, { span: { start: 4, end: 36 }, join, rounds: 3 }, false);
    expect(own.slice(0, 16).filter((pick) => pick.blend)).toHaveLength(2);
    for (const { blend } of own) if (blend) expect(blend.source).toBeGreaterThanOrEqual(0);
  });

  it('comes back the way it went and doubles neither end', () => {
    const own = { span: { start: 100, end: 117 }, join: { kind: 'there-and-back' as const }, rounds: 3 };
    const sources = ownReel(times, round, own, false)
      .slice(0, 16)
      .map((pick) => pick.source);
    expect(sources).toEqual(
      [0, 2, 4, 6, 8, 10, 12, 14, 16, 14, 12, 10, 8, 6, 4, 2].map((frame) => 100 + frame),
    );
  });

  it('rests while the reel rests', () => {
    const resting = round.map((pick, i) => (i === 10 ? { ...pick, delayCs: 300 } : pick));
    const own = { span: { start: 100, end: 196 }, join: { kind: 'cut' as const }, rounds: 1 };
    const sources = ownReel(times, resting, own, false).map((pick) => pick.source);
    for (let i = 1; i < sources.length; i++) expect(sources[i] - sources[i - 1]).toBeLessThanOrEqual(4);
  });

  it('says so when its stretch lies beyond the footage', () => {
    const own = { span: { start: 500, end: 520 }, join: { kind: 'cut' as const }, rounds: 1 };
    expect(() => ownReel(times, round, own, false)).toThrow(/240 frames.*find its loop anew/);
  });
});

describe('the joint of a region with a round of its own', () => {
  /** A ball that goes round in 20 frames at the left, on a wall; at the right one that only passes. */
  const wall = drawnWall(3);
  const near = (x: number, y: number, cx: number, cy: number) => (x - cx) ** 2 + (y - cy) ** 2 < 120;
  const take = drawnTake((x, y, t) => {
    const turn = (2 * Math.PI * t) / 20;
    const isBall =
      near(x, y, 40 + 14 * Math.cos(turn), 45 + 14 * Math.sin(turn)) || near(x, y, 100 + 0.25 * t, 45);
    return { luma: isBall ? 210 : wall(x, y) };
  }, 240);
  const left = Float32Array.from({ length: 160 * 90 }, (_, p) => (p % 160 < 80 ? 1 : 0));
  const scoreOf = async (own: OwnRound, weights = left) =>
    (await measureClosing(take, ownClosedReel(times, round, own, false), weights))?.score ?? 0;

  it('is seen by what moves in that region, once a round', async () => {
    const cut = (start: number, end: number, rounds: number): OwnRound => ({
      ...{ span: { start, end }, join: { kind: 'cut' }, rounds },
    });
    expect(await scoreOf(cut(100, 140, 2))).toBeGreaterThan(90);
    expect(await scoreOf(cut(100, 129, 3))).toBeLessThan(60);
    const right = left.map((weight) => 1 - weight);
    expect(await scoreOf(cut(100, 140, 2), right)).toBeLessThan(60);
  });

  it('of there and back lies where it turns', () => {
    const back: OwnRound = { span: { start: 100, end: 117 }, join: { kind: 'there-and-back' }, rounds: 3 };
    const closed = ownClosedReel(times, round, back, false);
    expect([closed.round.length, closed.turn]).toEqual([16, 8]);
    expect(closed.round[8].source).toBe(116);
    expect(ownClosedReel(times, round, { ...back, join: { kind: 'cut' } }, false).turn).toBeNull();
  });
});

describe('one common round', () => {
  it.each([3, 17])('fits two movements of different periods into one length (seed %i)', (seed) => {
    // 20 and 30 frames: they meet every 60.
    const [left, right] = pendulums(240, [20, 30], seed);
    const found = findCommonRound(
      [
        { field: left, area: 0.05 },
        { field: right, area: 0.05 },
      ],
      0,
      times,
      { start: 0, end: 240 },
      { min: 1.5, max: 4 },
      12.5,
    );
    expect(found).not.toBeNull();
    if (!found) return;
    expect(found.frames % 60).toBe(0);
    for (const [i, period] of [20, 30].entries()) {
      const { span, rounds, joins } = found.regions[i];
      expect((span.end - span.start) % period).toBe(0);
      expect((span.end - span.start) * rounds).toBe(found.frames);
      // What turns does not go round; a cut changes the footage least.
      expect(joins[0].join.kind).toBe('cut');
      // A flow reaches as far as the footage before the stretch does.
      const round = found.frames / rounds / 2;
      const reach = Math.floor(Math.min(round - 1, (span.start / (span.end - span.start)) * round));
      const flows = joins.filter(({ join }) => join.kind === 'flowed').map(({ join }) => join);
      expect(flows).toEqual(reach < 2 ? [] : [{ kind: 'flowed', frames: Math.min(6, reach) }]);
      expect(joins.some(({ join }) => join.kind === 'there-and-back')).toBe(false);
    }
  });

  it('is not there where the take is too short', () => {
    const [field] = pendulums(20, [9], 5);
    const short = { starts: times.starts.slice(0, 20), duration: 20 / 25 };
    const asked = { start: 0, end: 20 };
    expect(findCommonRound([{ field, area: 0.1 }], 0, short, asked, { min: 2, max: 4 }, 12.5)).toBeNull();
  });
});
