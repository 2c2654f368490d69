import { describe, expect, it } from 'vitest';
import { SIGNATURE_BYTES, SIGNATURE_SIZE } from '../motion/index.js';
import { seeded } from '../testing/seeded.js';
import { makeReel } from '../timing/index.js';
import { createSeamField, findCommonRound, ownReel, ownScore, ownSpeed, type SeamField } from './index.js';

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
    return createSeamField({ count, stride: SIGNATURE_BYTES, values }, { moving });
  });
}

describe('a region with a round of its own', () => {
  it('goes round a whole number of times while the reel goes round once, at the reel’s delays', () => {
    const own = ownReel(times, round, { span: { start: 100, end: 132 }, join: { kind: 'cut' }, rounds: 3 });
    expect(own.map((pick) => pick.delayCs)).toEqual(round.map((pick) => pick.delayCs));
    for (const [place, { source }] of own.entries()) expect(source).toBe(100 + ((2 * place) % 32));
    expect(
      ownSpeed(times, round, { span: { start: 100, end: 132 }, join: { kind: 'cut' }, rounds: 3 }),
    ).toBeCloseTo(1, 2);
  });

  it('is slowed and hurried evenly where its length does not divide the reel’s', () => {
    const own = { span: { start: 100, end: 130 }, join: { kind: 'cut' as const }, rounds: 3 };
    expect(ownSpeed(times, round, own)).toBeCloseTo(90 / 96, 2);
    const sources = ownReel(times, round, own).map((pick) => pick.source);
    for (const [i, source] of sources.entries()) {
      const step = (sources[(i + 1) % sources.length] - source + 30) % 30;
      expect(step === 1 || step === 2).toBe(true);
    }
  });

  it('melts into what lies before its own start, so that the last frame runs into the first', () => {
    const join = { kind: 'crossfade' as const, frames: 4 };
    const own = ownReel(times, round, { span: { start: 100, end: 132 }, join, rounds: 3 });
    const blends = own.slice(0, 16).map(({ source, blend }) => blend && [source - blend.source, blend.share]);
    expect(blends.slice(0, 12)).toEqual(Array(12).fill(undefined));
    for (const [n, blend] of blends.slice(12).entries()) {
      expect(blend?.[0]).toBe(32);
      expect(blend?.[1]).toBeCloseTo((n + 1) / 5, 6);
    }
  });

  it('does not melt further back than the take goes', () => {
    const join = { kind: 'crossfade' as const, frames: 10 };
    const own = ownReel(times, round, { span: { start: 4, end: 36 }, join, rounds: 3 });
    expect(own.slice(0, 16).filter((pick) => pick.blend)).toHaveLength(2);
    for (const { blend } of own) if (blend) expect(blend.source).toBeGreaterThanOrEqual(0);
  });

  it('comes back the way it went and doubles neither end', () => {
    const own = { span: { start: 100, end: 117 }, join: { kind: 'there-and-back' as const }, rounds: 3 };
    const sources = ownReel(times, round, own)
      .slice(0, 16)
      .map((pick) => pick.source);
    expect(sources).toEqual(
      [0, 2, 4, 6, 8, 10, 12, 14, 16, 14, 12, 10, 8, 6, 4, 2].map((frame) => 100 + frame),
    );
  });

  it('rests while the reel rests', () => {
    const resting = round.map((pick, i) => (i === 10 ? { ...pick, delayCs: 300 } : pick));
    const own = { span: { start: 100, end: 196 }, join: { kind: 'cut' as const }, rounds: 1 };
    const sources = ownReel(times, resting, own).map((pick) => pick.source);
    for (let i = 1; i < sources.length; i++) expect(sources[i] - sources[i - 1]).toBeLessThanOrEqual(4);
  });

  it('says so when its stretch lies beyond the footage', () => {
    const own = { span: { start: 500, end: 520 }, join: { kind: 'cut' as const }, rounds: 1 };
    expect(() => ownReel(times, round, own)).toThrow(/240 frames.*find its loop anew/);
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
      const { round: own, score } = found.regions[i];
      expect((own.span.end - own.span.start) % period).toBe(0);
      expect((own.span.end - own.span.start) * own.rounds).toBe(found.frames);
      expect(score).toBeGreaterThan(90);
    }
    const wrong = { span: { start: 0, end: 25 }, join: { kind: 'cut' as const }, rounds: 2 };
    expect(ownScore(left, 0, times, round, wrong)).toBeLessThan(60);
    expect(ownScore(left, 0, times, round, found.regions[0].round)).toBeGreaterThan(90);
  });

  it('is not there where the take is too short', () => {
    const [field] = pendulums(20, [9], 5);
    const short = { starts: times.starts.slice(0, 20), duration: 20 / 25 };
    const asked = { start: 0, end: 20 };
    expect(findCommonRound([{ field, area: 0.1 }], 0, short, asked, { min: 2, max: 4 }, 12.5)).toBeNull();
  });
});
