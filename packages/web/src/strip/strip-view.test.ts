import { describe, expect, it } from 'vitest';
import { seeded } from '../../../core/src/testing/seeded.js';
import { ribbonColumns } from './ribbon-columns.js';
import { markNear } from './snap.js';
import {
  closestSeconds,
  fitView,
  scrollView,
  showFrame,
  stripTiles,
  wholeView,
  zoomView,
} from './strip-view.js';

const times = { starts: Array.from({ length: 3000 }, (_, i) => i / 30), duration: 100 };
const uneven = { starts: [0, 0.1, 0.2, 2, 2.1, 7], duration: 8 };

describe('zooming the strip', () => {
  it('keeps the moment under the pointer, and never leaves the take (seed 31)', () => {
    const random = seeded(31);
    let view = wholeView(times);
    for (let step = 0; step < 400; step++) {
      const share = random();
      const anchor = view.from + (view.to - view.from) * share;
      const next = zoomView(view, times, 0.5 + random(), share);
      expect(next.from).toBeGreaterThanOrEqual(-1e-9);
      expect(next.to).toBeLessThanOrEqual(100 + 1e-9);
      expect(next.to - next.from).toBeGreaterThanOrEqual(closestSeconds(times) - 1e-9);
      // At the take's ends it gives way; elsewhere the moment stays where it was.
      if (next.from > 1e-6 && next.to < 100 - 1e-6) {
        expect(next.from + (next.to - next.from) * share).toBeCloseTo(anchor, 6);
      }
      view = next;
    }
  });

  it('goes from the whole take to a few frames and back', () => {
    let view = wholeView(times);
    for (let i = 0; i < 60; i++) view = zoomView(view, times, 0.8, 0.5);
    expect(view.to - view.from).toBeCloseTo(8 / 30, 6);
    for (let i = 0; i < 60; i++) view = zoomView(view, times, 1.25, 0.1);
    expect(view).toEqual({ from: 0, to: 100 });
  });

  it('scrolls by a share of what it shows, and stops at the ends', () => {
    expect(scrollView({ from: 10, to: 20 }, times, 0.5)).toEqual({ from: 15, to: 25 });
    expect(scrollView({ from: 92, to: 98 }, times, 2)).toEqual({ from: 94, to: 100 });
    expect(fitView({ from: -5, to: 300 }, times)).toEqual({ from: 0, to: 100 });
  });

  it('brings a frame into sight, moving no more than it must', () => {
    const view = { from: 10, to: 20 };
    expect(showFrame(view, times, 400)).toBe(view);
    const later = showFrame(view, times, 660);
    expect(later.from).toBeLessThanOrEqual(22);
    expect(later.to).toBeGreaterThanOrEqual(661 / 30);
    const earlier = showFrame(view, times, 30);
    expect(earlier.from).toBeLessThanOrEqual(1);
    expect(earlier.to - earlier.from).toBeCloseTo(10, 6);
  });
});

describe('the strip’s pictures', () => {
  it.each([
    [{ from: 0, to: 100 }, 12],
    [{ from: 40, to: 41 }, 12],
    [{ from: 99.5, to: 100 }, 9],
  ])('cover what is shown, side by side, about as many as there is room for', (view, room) => {
    const { tiles, step } = stripTiles(view, times, room);
    expect(tiles[0].left).toBeLessThanOrEqual(1e-6);
    const last = tiles[tiles.length - 1];
    expect(last.left + last.width).toBeGreaterThanOrEqual(1 - 1e-6);
    expect(tiles.length).toBeLessThanOrEqual(room + 2);
    for (const [i, { frame, left, width }] of tiles.entries()) {
      if (i > 0) expect(left).toBeCloseTo(tiles[i - 1].left + tiles[i - 1].width, 6);
      if (frame < 2999) expect(frame % step).toBe(0);
      // The frame it shows is one of those it stands for, give or take the grid.
      const middle = view.from + (left + width / 2) * (view.to - view.from);
      expect(Math.abs(frame / 30 - middle)).toBeLessThanOrEqual(step / 30 + 0.04);
    }
  });

  it('share their frames between neighbouring zooms', () => {
    const framesOf = (to: number) =>
      new Set(stripTiles({ from: 0, to }, times, 14).tiles.map((tile) => tile.frame));
    const [near, wide] = [framesOf(60), framesOf(66)];
    expect([...wide].filter((frame) => near.has(frame)).length).toBeGreaterThanOrEqual(5);
  });

  it('stand where their frames are shown, however uneven', () => {
    const { tiles, step } = stripTiles(wholeView(uneven), uneven, 40);
    expect(step).toBe(1);
    expect(tiles.map((tile) => tile.left * 8)).toEqual(uneven.starts);
  });
});

describe('marks', () => {
  const px = (a: number, b: number) => (a - b) * 2;
  const marks = [
    { boundary: 10, name: 'ten' },
    { boundary: 13, name: 'thirteen' },
  ];
  it('catch what comes near, the nearest first', () => {
    expect(markNear(marks, 12, px)?.name).toBe('thirteen');
    expect(markNear(marks, 8, px)?.name).toBe('ten');
    expect(markNear(marks, 30, px)).toBeNull();
  });
});

describe('the ribbons', () => {
  const frames = 3000;
  const moving = (f: number) => f >= 1500 && f < 1530;
  const series = {
    moves: Float32Array.from({ length: frames }, (_, f) => (moving(f) ? 4 : 0.5)),
    shiftX: Float32Array.from({ length: frames }, (_, f) => (f < 600 ? (f % 2 ? 3 : -3) : 0)),
    shiftY: new Float32Array(frames),
    light: new Float32Array(frames),
  };

  it('show even the shortest movement, and where camera and light are still', () => {
    const { moves, calm } = ribbonColumns(series, times, wholeView(times), 200);
    expect(Math.max(...moves)).toBe(1);
    expect(moves[100]).toBe(1);
    expect(moves[50]).toBeCloseTo(0.125, 6);
    expect(calm[10]).toBeLessThan(0.5);
    expect(calm[150]).toBeGreaterThan(0.99);
  });

  it('say nothing of what is not known yet', () => {
    const half = { ...series, moves: series.moves.subarray(0, 1500) };
    const { moves } = ribbonColumns(half, times, wholeView(times), 100);
    expect(Number.isNaN(moves[80])).toBe(true);
    expect(Number.isNaN(moves[20])).toBe(false);
  });
});
