import { describe, expect, it } from 'vitest';
import { seeded, wholeFrom } from '../testing/seeded.js';
import { makeReel, reelCentiseconds } from '../timing/index.js';
import { editReel, type FrameRef, type ReelEdit, refOf } from './index.js';

const times = { starts: Array.from({ length: 100 }, (_, frame) => frame / 25), duration: 4 };
const span = { start: 10, end: 20 };
const plain = makeReel(times, span, 25);
const at = (...frames: number[]): FrameRef[] => frames.map((frame) => [frame, 0, 1]);
const shown = (edits: ReelEdit[], reel = plain) => {
  const { items, lost } = editReel(reel, span, edits);
  return { sources: items.map((item) => item.source), delays: items.map((item) => item.delayCs), lost };
};

describe('an edit by hand', () => {
  it('removes frames, with their time or without', () => {
    expect(shown([{ kind: 'remove', frames: at(12, 15), keepTime: false }])).toEqual({
      sources: [10, 11, 13, 14, 16, 17, 18, 19],
      delays: [4, 4, 4, 4, 4, 4, 4, 4],
      lost: [],
    });
    const kept = shown([{ kind: 'remove', frames: at(10, 12, 13), keepTime: true }]);
    expect(kept.sources).toEqual([11, 14, 15, 16, 17, 18, 19]);
    expect(kept.delays).toEqual([16, 4, 4, 4, 4, 4, 4]);
  });

  it('holds one frame by one long delay, not by copies', () => {
    const held = shown([{ kind: 'delay', frames: at(14), delayCs: 100 }]);
    expect(held.sources).toEqual(plain.map((pick) => pick.source));
    expect(held.delays).toEqual([4, 4, 4, 4, 100, 4, 4, 4, 4, 4]);
  });

  it('moves, reverses and duplicates', () => {
    expect(shown([{ kind: 'move', frames: at(17, 18), before: [11, 0, 1] }]).sources).toEqual([
      10, 17, 18, 11, 12, 13, 14, 15, 16, 19,
    ]);
    expect(shown([{ kind: 'move', frames: at(10), before: null }]).sources.at(-1)).toBe(10);
    expect(shown([{ kind: 'reverse', frames: at(11, 13, 15) }]).sources).toEqual([
      10, 15, 12, 13, 14, 11, 16, 17, 18, 19,
    ]);
    expect(shown([{ kind: 'duplicate', frames: at(12, 13) }]).sources).toEqual([
      10, 11, 12, 13, 12, 13, 14, 15, 16, 17, 18, 19,
    ]);
  });

  it('names a copy apart from its original', () => {
    const edits: ReelEdit[] = [
      { kind: 'duplicate', frames: at(12) },
      { kind: 'delay', frames: [[12, 1, 1]], delayCs: 50 },
    ];
    expect(shown(edits).delays.slice(0, 5)).toEqual([4, 4, 4, 50, 4]);
    expect(shown([...edits, { kind: 'remove', frames: at(12), keepTime: false }]).delays.slice(0, 4)).toEqual(
      [4, 4, 50, 4],
    );
  });

  it('lays mixtures between neighbours, also between the last and the first', () => {
    const { items } = editReel(plain, span, [{ kind: 'blend', after: [19, 0, 1], count: 3, delayCs: 6 }]);
    expect(items.slice(-3).map(({ source, delayCs, blend }) => ({ source, delayCs, blend }))).toEqual(
      [0.25, 0.5, 0.75].map((share) => ({ source: 19, delayCs: 6, blend: { source: 10, share } })),
    );
  });

  it('that leaves nothing is refused', () => {
    expect(() =>
      shown([{ kind: 'remove', frames: at(...plain.map((pick) => pick.source)), keepTime: false }]),
    ).toThrow('No frame is left');
  });
});

describe('edits when span, rate or speed change', () => {
  it('hold for the frames that stand there now', () => {
    const slow = makeReel(times, span, 12.5);
    expect(slow.map((pick) => pick.source)).toEqual([10, 12, 14, 16, 18]);
    // 13 is not taken any more: 12 stands for it.
    expect(shown([{ kind: 'delay', frames: at(13), delayCs: 90 }], slow).delays).toEqual([8, 90, 8, 8, 8]);
    // What is not taken anyway is removed already.
    expect(shown([{ kind: 'remove', frames: at(13), keepTime: false }], slow)).toEqual({
      sources: [10, 12, 14, 16, 18],
      delays: [8, 8, 8, 8, 8],
      lost: [],
    });
  });

  it('reach all frames that the named one stood for', () => {
    expect(shown([{ kind: 'remove', frames: [[12, 0, 2]], keepTime: false }]).sources).not.toEqual(
      expect.arrayContaining([12]),
    );
    expect(shown([{ kind: 'remove', frames: [[12, 0, 2]], keepTime: false }]).sources).toEqual([
      10, 11, 14, 15, 16, 17, 18, 19,
    ]);
    // A hold keeps its length: the two frames that stand for it now share it.
    expect(shown([{ kind: 'delay', frames: [[12, 0, 2]], delayCs: 31 }]).delays.slice(2, 4)).toEqual([
      16, 15,
    ]);
  });

  it('are lost, and told, outside the span; the others stay', () => {
    const edits: ReelEdit[] = [
      { kind: 'delay', frames: at(30), delayCs: 50 },
      { kind: 'delay', frames: at(11), delayCs: 60 },
      { kind: 'remove', frames: at(5), keepTime: false },
      { kind: 'duplicate', frames: at(99) },
    ];
    const { lost, delays } = shown(edits);
    expect(lost).toEqual([0, 2, 3]);
    expect(delays[1]).toBe(60);
  });

  it.each([5, 17, 29, 71])('keep every frame that no edit touched, whatever is done (seed %i)', (seed) => {
    const random = seeded(seed);
    const touched = new Set<number>();
    const edits: ReelEdit[] = Array.from({ length: 12 }, () => {
      const frame = wholeFrom(random, span.start, span.end - 1);
      touched.add(frame);
      const frames = at(frame);
      return (
        [
          { kind: 'delay', frames, delayCs: wholeFrom(random, 2, 90) },
          { kind: 'move', frames, before: null },
          { kind: 'duplicate', frames },
          { kind: 'reverse', frames },
          { kind: 'remove', frames, keepTime: random() < 0.5 },
        ] as const
      )[wholeFrom(random, 0, 4)];
    });
    const untouched = plain.filter((pick) => !touched.has(pick.source)).map((pick) => pick.source);
    const { items } = editReel(plain, span, edits);
    const base = items.filter((item) => item.copy === 0 && !touched.has(item.source));
    expect(base.map((item) => item.source)).toEqual(untouched);
    // Everything that is there can be named, and by its name alone.
    const names = items.map((item) => refOf(item).slice(0, 2).join('.'));
    expect(new Set(names).size).toBe(names.length);
    expect(reelCentiseconds(items)).toBeGreaterThanOrEqual(untouched.length * 4);
  });
});
