import { describe, expect, it } from 'vitest';
import { seeded, wholeFrom } from '../testing/seeded.js';
import { reelCentiseconds } from '../timing/index.js';
import { type LoopSettings, makeLoop, PLAIN_LOOP } from './index.js';

/** Frames at a steady rate. */
const take = (frames: number, rate: number) => ({
  starts: Array.from({ length: frames }, (_, frame) => frame / rate),
  duration: frames / rate,
});
const loopOf = (frames: number, span: { start: number; end: number }, settings: Partial<LoopSettings> = {}) =>
  makeLoop(take(frames, 25), span, 25, 1, { ...PLAIN_LOOP, ...settings });
const sources = (loop: ReturnType<typeof loopOf>) => loop.reel.map((pick) => pick.source);
const counted = (from: number, to: number) => Array.from({ length: to - from }, (_, i) => from + i);

const SEEDS = [3, 11, 27, 40, 58, 64, 79, 93];

describe.each(SEEDS)('a loop (seed %i)', (seed) => {
  const random = seeded(seed);
  const frames = wholeFrom(random, 20, 120);
  const start = wholeFrom(random, 0, frames - 8);
  const end = wholeFrom(random, start + 4, frames);
  const span = { start, end };

  it('that is cut shows the span’s frames once, in order', () => {
    const loop = loopOf(frames, span);
    expect(sources(loop)).toEqual(counted(start, end));
    expect(reelCentiseconds(loop.reel)).toBe((end - start) * 4);
  });

  it('that is crossfaded mixes output t ≥ L − k of i + t and i + t − L by (n + 1)/(k + 1), and nothing else', () => {
    const asked = wholeFrom(random, 1, 12);
    const loop = loopOf(frames, span, { join: { kind: 'crossfade', frames: asked } });
    const length = end - start;
    const used = Math.min(asked, start, length - 1);
    expect({ used: loop.melted, longest: loop.longest.crossfade }).toEqual({
      used,
      longest: Math.min(start, length - 1),
    });
    for (const [t, pick] of loop.reel.entries()) {
      const n = t - (length - used);
      const blend = n < 0 ? undefined : { source: start + t - length, share: (n + 1) / (used + 1) };
      expect(pick).toEqual({ source: start + t, delayCs: 4, ...(blend ? { blend } : {}) });
    }
    // The last output is nearly the frame before the start, so it runs into the start by itself.
    if (used > 0) expect(loop.reel.at(-1)?.blend?.source).toBe(start - 1);
  });

  it('that flows pairs its last frames with those before the start, else its first with those after the end', () => {
    const asked = wholeFrom(random, 2, 12);
    const { reel, melted } = loopOf(frames, span, { join: { kind: 'flowed', frames: asked } });
    const length = end - start;
    const [before, after] = [Math.min(start, length - 1), Math.min(frames - end, length - 1)];
    const used = Math.min(asked, Math.max(before, after));
    if (used < 2) {
      expect(reel.every(({ blend }) => !blend)).toBe(true);
      return;
    }
    expect(melted).toBe(used);
    const isOverEnd = before >= Math.min(used, after);
    const first = isOverEnd ? length - used : 0;
    for (const [t, { source, blend }] of reel.entries()) {
      const n = t - first;
      if (n < 0 || n >= used) {
        expect(blend).toBeUndefined();
        continue;
      }
      expect(source).toBe(start + t);
      expect(blend?.source).toBe(isOverEnd ? start + t - length : end + t);
      expect(blend?.share).toBeCloseTo(isOverEnd ? (n + 1) / (used + 1) : 1 - (n + 1) / (used + 1), 12);
      expect(blend?.led).toMatchObject({ at: n, seconds: 0.04 });
      const [from, to] = isOverEnd ? [start + t, start + t - length] : [end + t, start + t];
      expect(blend?.led?.pairs[n]).toEqual({ from: { source: from }, to: { source: to } });
    }
    // All places of the joint name the same pairs.
    expect(
      new Set(reel.flatMap(({ blend }) => (blend?.led ? [JSON.stringify(blend.led.pairs)] : []))).size,
    ).toBe(1);
  });

  it('there and back shows i … j − 1, then j − 2 … i + 1', () => {
    const loop = loopOf(frames, span, { join: { kind: 'there-and-back' } });
    expect(sources(loop)).toEqual([...counted(start, end), ...counted(start + 1, end - 1).reverse()]);
    expect(loop.round).toBe(2 * (end - start) - 2);
  });

  it('that is reversed runs the other way round', () => {
    expect(sources(loopOf(frames, span, { reverse: true }))).toEqual(counted(start, end).reverse());
    const there = loopOf(frames, span, { join: { kind: 'there-and-back' }, reverse: true });
    expect(sources(there)).toEqual([...counted(start, end).reverse(), ...counted(start + 1, end - 1)]);
  });

  it('that runs backwards melts into the frames after its end', () => {
    const loop = loopOf(frames, span, { join: { kind: 'crossfade', frames: 240 }, reverse: true });
    const length = end - start;
    expect(loop.melted).toBe(Math.min(frames - end, length - 1));
    if (loop.melted > 0) expect(loop.reel.at(-1)?.blend?.source).toBe(end);
  });

  it('has the length that speed and rests say, to the centisecond', () => {
    const speed = 0.25 + random() * 3;
    const restStartCs = wholeFrom(random, 0, 200);
    const restEndCs = wholeFrom(random, 0, 200);
    const rate = wholeFrom(random, 4, 30);
    const loop = makeLoop(take(frames, 25), span, rate, 1, { ...PLAIN_LOOP, speed, restStartCs, restEndCs });
    const wanted = Math.max(2, Math.round(((end - start) / 25 / speed) * 100));
    expect(reelCentiseconds(loop.reel)).toBe(wanted + restStartCs + restEndCs);
  });

  it('that is repeated is its round so many times', () => {
    const repeats = wholeFrom(random, 2, 5);
    const loop = loopOf(frames, span, { join: { kind: 'there-and-back' }, repeats });
    const once = loopOf(frames, span, { join: { kind: 'there-and-back' } });
    expect(loop.reel).toEqual(Array.from({ length: repeats }, () => once.reel).flat());
    expect(loop.round).toBe(once.reel.length);
  });
});

describe('a loop', () => {
  it('of one frame, or of a speed that leaves one, is that frame', () => {
    expect(sources(loopOf(30, { start: 4, end: 5 }, { join: { kind: 'there-and-back' } }))).toEqual([4]);
    expect(sources(loopOf(30, { start: 4, end: 5 }, { join: { kind: 'crossfade', frames: 9 } }))).toEqual([
      4,
    ]);
    const fast = makeLoop(take(3, 25), { start: 0, end: 3 }, 5, 1, { ...PLAIN_LOOP, speed: 10 });
    expect(fast.reel).toEqual([{ source: 0, delayCs: 2 }]);
  });

  it('that cannot flow is cut: in a span of two frames, and where nothing lies beside it', () => {
    const join = { kind: 'flowed', frames: 12 } as const;
    for (const [frames, span] of [
      [60, { start: 20, end: 22 }],
      [30, { start: 0, end: 30 }],
      [31, { start: 1, end: 31 }],
    ] as const) {
      const loop = loopOf(frames, span, { join });
      expect(loop.reel).toEqual(loopOf(frames, span).reel);
      expect([loop.melted, loop.longest.flowed]).toEqual([0, 0]);
    }
  });

  it('that would be endless work is refused with what to do', () => {
    expect(() => loopOf(100, { start: 0, end: 100 }, { repeats: 50 })).toThrow('Lower the frame rate');
  });

  it('rests at the frame where it turns', () => {
    const loop = loopOf(
      30,
      { start: 0, end: 4 },
      { join: { kind: 'there-and-back' }, restStartCs: 10, restEndCs: 30 },
    );
    expect(loop.reel.map((pick) => pick.delayCs)).toEqual([14, 4, 4, 34, 4, 4]);
  });

  it('refuses a speed that is none', () => {
    for (const speed of [0, -1, Number.NaN, Number.POSITIVE_INFINITY]) {
      expect(() => loopOf(30, { start: 0, end: 9 }, { speed })).toThrow('choose one above 0');
    }
  });
});
