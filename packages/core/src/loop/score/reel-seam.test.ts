import { describe, expect, it } from 'vitest';
import { type DrawnScene, drawnLooks, drawnTake, drawnWall } from '../../testing/drawn-looks.js';
import {
  adviseJoin,
  type JoinSettings,
  type LoopReel,
  type MeasuredTake,
  makeLoop,
  mixedWithOtherScenes,
  PLAIN_LOOP,
} from '../index.js';
import { findFlowLength, measureReelSeam, NO_JOINT, proposedScore } from './index.js';

const FRAMES = 140;
const times = { starts: Array.from({ length: FRAMES }, (_, i) => i / 25), duration: FRAMES / 25 };
const wall = drawnWall(6);
const ballAt = (at: (t: number) => readonly [number, number]): DrawnScene => {
  return (x, y, t) => {
    const [cx, cy] = at(t);
    const far = (x - cx) ** 2 + (y - cy) ** 2;
    return { luma: far < 196 ? 205 + 2 * (x - cx) + (y - cy) : wall(x, y) };
  };
};
const turning = (period: number) =>
  ballAt((t) => {
    const turn = (2 * Math.PI * t) / period;
    return [80 + 30 * Math.cos(turn), 45 + 22 * Math.sin(turn)];
  });
const swinging = (period: number) => ballAt((t) => [80 + 40 * Math.sin((2 * Math.PI * t) / period), 45]);
const loopOver = (start: number, end: number, part: Partial<typeof PLAIN_LOOP> = {}, rate = 25) =>
  makeLoop(times, { start, end }, rate, 1, { ...PLAIN_LOOP, ...part });
const scoreOf = async (take: MeasuredTake, loop: LoopReel) =>
  (await measureReelSeam(take, loop))?.score ?? -1;

const advise = (scene: DrawnScene, start: number, end: number, kinds?: Parameters<typeof adviseJoin>[3]) => {
  const take = drawnTake(scene, FRAMES);
  const span = { start, end };
  const pace = { times, span, rate: 25, every: 1, cuts: take.cuts };
  return adviseJoin(
    pace,
    PLAIN_LOOP,
    {
      scoreOf: (loop) => scoreOf(take, loop),
      flowLength: (cut, longest) => findFlowLength(take, times, span, cut, longest),
    },
    kinds,
  );
};

describe('the seam of a reel', () => {
  const take = drawnTake(turning(40), FRAMES);

  it('is not noticed where the end meets the start, at any frame rate', async () => {
    for (const rate of [25, 12.5]) {
      expect(await scoreOf(take, loopOver(20, 60, {}, rate)), String(rate)).toBeGreaterThan(95);
    }
  });

  it('is plain to see half a turn off, and a crossfade does not make up for it', async () => {
    expect(await scoreOf(take, loopOver(50, 70))).toBeLessThan(50);
    const melted = await measureReelSeam(take, loopOver(50, 70, { join: { kind: 'crossfade', frames: 12 } }));
    expect(melted?.score).toBeLessThan(50);
    expect(melted?.fault).toBe('ghost');
  });

  it('follows frames that are removed at the joint', async () => {
    const removed = (frames: readonly number[]) =>
      loopOver(20, 63, {
        edits: [{ kind: 'remove', frames: frames.map((frame) => [frame, 0, 1] as const), keepTime: false }],
      });
    expect(await scoreOf(take, removed([60, 61, 62]))).toBeGreaterThan(
      (await scoreOf(take, loopOver(20, 63))) + 10,
    );
  });

  it('is the same forwards and backwards', async () => {
    const [there, back] = [loopOver(30, 66), loopOver(30, 66, { reverse: true })];
    expect(Math.abs((await scoreOf(take, back)) - (await scoreOf(take, there)))).toBeLessThan(10);
  });

  it('is none where nothing is joined', async () => {
    expect(await scoreOf(take, loopOver(20, 21))).toBe(100);
  });

  it('can be had of a take of two frames', async () => {
    const two = { starts: [0, 0.04], duration: 0.08 };
    const loop = makeLoop(two, { start: 0, end: 2 }, 25, 1, PLAIN_LOOP);
    const score = await scoreOf(drawnTake(turning(40), 2), loop);
    expect(score).toBeGreaterThan(0);
    expect(score).toBeLessThanOrEqual(100);
  });

  it('asks for looks before it looks, and for nothing else', async () => {
    const looks = drawnLooks(turning(40), FRAMES);
    const loaded = new Set<number>();
    const asking: MeasuredTake = {
      ...{ ...take, looks },
      load: async (frames) => {
        expect(looks.asked.size).toBe(0);
        for (const frame of frames) loaded.add(frame);
      },
    };
    await measureReelSeam(asking, loopOver(20, 60, { join: { kind: 'crossfade', frames: 6 } }));
    expect([...looks.asked].filter((frame) => !loaded.has(frame))).toEqual([]);
    const failing = { ...take, load: () => Promise.reject(new Error('The disk is gone.')) };
    await expect(measureReelSeam(failing, loopOver(20, 60))).rejects.toThrow('The disk is gone.');
  });
});

describe('advice on how to join', () => {
  it('is the cut, or the turn, that is not noticed', async () => {
    expect(await advise(turning(40), 20, 60)).toMatchObject({ reason: 'meets', join: { kind: 'cut' } });
    expect(await advise(swinging(60), 15, 46)).toMatchObject({ reason: 'at-rest' });
  });

  it('is the best there is where nothing goes unnoticed, and keeps to what may be proposed', async () => {
    const advice = await advise(turning(40), 50, 70, ['cut', 'crossfade']);
    expect(advice.reason).toBe('best-there-is');
    expect(advice.score).toBeLessThan(90);
    expect(await advise(turning(40), 50, 70, [])).toMatchObject({ join: { kind: 'cut' } });
  });

  it('is a crossfade where that hides what a cut does not', async () => {
    // Light that wanders: it leaps in a cut, and nothing is seen twice in a mixture.
    const light: DrawnScene = (x, y, t) => ({ luma: wall(x, y) + 0.35 * t });
    const { join, reason } = await advise(light, 50, 110, ['cut', 'crossfade']);
    expect([join.kind, reason]).toEqual(['crossfade', 'melts']);
  });
});

describe('a joint that flows', () => {
  // Two things that wander slowly over a still wall and do not come back to where they were.
  const [one, other] = [drawnWall(11), drawnWall(12)];
  const drifting: DrawnScene = (x, y, t) => {
    const [ax, ay] = [x - 48 - t / 16, y - 40 + t / 30];
    const [bx, by] = [x - 112 + t / 18, y - 58 - t / 24];
    if (ax * ax + ay * ay < 400) return { luma: one(ax + 60, ay + 40) + 60 };
    if (bx * bx + by * by < 324) return { luma: other(bx + 70, by + 50) - 50 };
    return { luma: wall(x, y) };
  };

  it('shows nothing twice where a crossfade does, and tells what it could lead', async () => {
    const take = drawnTake(drifting, FRAMES);
    const loopBy = (join: JoinSettings) => loopOver(40, 84, { join });
    const crossfade = await measureReelSeam(take, loopBy({ kind: 'crossfade', frames: 10 }));
    const flow = await measureReelSeam(take, loopBy({ kind: 'flowed', frames: 10 }));
    expect(crossfade?.fault).toBe('ghost');
    expect(flow?.score).toBeGreaterThan((crossfade?.score ?? 100) + 25);
    expect(flow?.figures.ghost).toBeLessThan(0.5 * (crossfade?.figures.ghost ?? 0));
    expect(flow?.led?.lost).toBeLessThan(0.3);
    // Both things are some 3 px of 160 from where they were.
    expect(flow?.led?.far).toBeGreaterThan(0.013);
    expect(flow?.led?.far).toBeLessThan(0.025);
    expect(crossfade?.led).toBeUndefined();
  });

  it('is proposed over so many frames that nothing is led in haste', async () => {
    const advice = await advise(drifting, 40, 84, ['cut', 'crossfade', 'flowed']);
    expect(advice.join).toMatchObject({ kind: 'flowed' });
    const take = drawnTake(drifting, FRAMES);
    const cutOver = (start: number, end: number) => loopOver(start, end);
    const near = await findFlowLength(take, times, { start: 40, end: 60 }, cutOver(40, 60), 40);
    const far = await findFlowLength(take, times, { start: 40, end: 136 }, cutOver(40, 136), 40);
    expect(far).toBeGreaterThan(near ?? 100);
    expect(await findFlowLength(take, times, { start: 40, end: 136 }, cutOver(40, 136), 0)).toBeNull();
    expect(await findFlowLength(take, times, { start: 40, end: 136 }, cutOver(40, 136), 3)).toBe(3);
  });

  it('that leaves too much behind or leads too far is not proposed', () => {
    const map = { columns: 1, rows: 1, values: new Float32Array(1) };
    const joint = (lost: number, far: number) => ({
      ...NO_JOINT,
      score: 80,
      led: { fallen: map, lost, far },
    });
    expect([joint(0.3, 0.12), joint(0.31, 0.05), joint(0.05, 0.13)].map(proposedScore)).toEqual([80, 0, 0]);
    expect([NO_JOINT, null].map(proposedScore)).toEqual([100, 0]);
  });

  it('does not reach into another scene', async () => {
    const night = drawnWall(31);
    const cut = 47;
    const scene: DrawnScene = (x, y, t) => (t < cut ? { luma: night(x, y) - 60 } : drifting(x, y, t));
    const take = drawnTake(scene, FRAMES, [cut]);
    const pace = { times, span: { start: 50, end: 104 }, rate: 25, every: 1, cuts: [cut] };
    const asked: number[] = [];
    const flowLength = (_: unknown, longest: number) => asked.push(longest);
    await adviseJoin(pace, PLAIN_LOOP, { scoreOf: () => 0, flowLength }, ['flowed']);
    // Three frames before the start are of this scene; those after the end are not asked, since there is room before.
    expect(asked).toEqual([3]);
    expect(await scoreOf(take, loopOver(50, 104, { join: { kind: 'flowed', frames: 12 } }))).toBe(0);
  });
});

describe('a crossfade whose frames before the start show another scene', () => {
  const cut = 55;
  const night = drawnWall(31);
  const after = turning(40);
  const scene: DrawnScene = (x, y, t) => (t < cut ? { luma: night(x, y) - 60 } : after(x, y, t));
  const loopBy = (frames: number) => loopOver(60, 117, { join: { kind: 'crossfade', frames } });

  it('counts them, by the cut only', () => {
    expect([4, 5, 6, 12].map((over) => mixedWithOtherScenes(loopBy(over), [cut]))).toEqual([0, 0, 1, 7]);
    expect(mixedWithOtherScenes(loopBy(12), [])).toBe(0);
    expect(mixedWithOtherScenes(loopBy(12), [20, 100])).toBe(0);
    // A reversed reel is mixed with what lies after its end.
    const backwards = loopOver(60, 117, { join: { kind: 'crossfade', frames: 12 }, reverse: true });
    expect([100, 118, 122].map((at) => mixedWithOtherScenes(backwards, [at]))).toEqual([0, 11, 7]);
  });

  it('is plain to see, whether or not the cut is known', async () => {
    expect(await scoreOf(drawnTake(scene, FRAMES, [cut]), loopBy(12))).toBe(0);
    expect(await scoreOf(drawnTake(scene, FRAMES), loopBy(12))).toBeLessThan(20);
    const [known, unknown] = [drawnTake(scene, FRAMES, [cut]), drawnTake(scene, FRAMES)];
    expect(await scoreOf(known, loopBy(4))).toBe(await scoreOf(unknown, loopBy(4)));
  });
});
