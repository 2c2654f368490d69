import { createMask, type Mask } from '@muted-pond/core/still';
import { describe, expect, it } from 'vitest';
import { createPainter, type PainterDoors, type PaintTarget, type PlaceOn } from './painter.js';

const WIDTH = 64;
const HEIGHT = 16;

interface Gate<T> {
  readonly promise: Promise<T>;
  resolve(value: T): void;
  reject(error: Error): void;
}

function gate<T>(): Gate<T> {
  let resolve: (value: T) => void = () => {};
  let reject: (error: Error) => void = () => {};
  const promise = new Promise<T>((onDone, onFailed) => {
    resolve = onDone;
    reject = onFailed;
  });
  return { promise, resolve, reject };
}

/** A server that loads and keeps masks when it is told to. */
function open() {
  const kept = new Map<string, Mask>();
  const loads: Gate<void>[] = [];
  const keeps: Gate<void>[] = [];
  const problems: unknown[] = [];
  let active: string | null = null;
  let seen: Mask | null = null;
  let ripples = 0;
  const doors: PainterDoors = {
    active: () => active,
    async load({ id }: PaintTarget) {
      const loading = gate<void>();
      loads.push(loading);
      await loading.promise;
      return (id && kept.get(id)) || createMask(WIDTH, HEIGHT);
    },
    brush: () => ({ radius: 3, softness: 0, strength: 1, way: 'stir' }),
    async keep(mask, target) {
      const keeping = gate<void>();
      keeps.push(keeping);
      await keeping.promise;
      target.id ??= `r${++ripples}`;
      kept.set(target.id, mask);
      active = target.id;
    },
    begun: (mask) => {
      seen = mask;
    },
    painted: (mask) => {
      seen = mask;
    },
    dry: () => {
      seen = null;
    },
    failed: (error) => problems.push(error),
  };
  const painter = createPainter(doors);
  return {
    painter,
    kept,
    loads,
    keeps,
    problems,
    seen: () => seen,
    paintOn: (id: string | null) => {
      active = id;
    },
    /** Lets everything that waits go on. */
    async run() {
      for (let i = 0; i < 12; i++) {
        for (const one of [...loads.splice(0), ...keeps.splice(0)]) one.resolve();
        await new Promise((resolve) => setImmediate(resolve));
      }
    },
  };
}

const at =
  (x: number): PlaceOn =>
  () => ({ x, y: 8, pressure: 1 });
const isPainted = (mask: Mask | null | undefined, x: number) => (mask?.values[8 * WIDTH + x] ?? 0) > 200;

function stroke({ painter }: ReturnType<typeof open>, ...places: number[]): void {
  painter.begin(at(places[0]));
  painter.move(places.slice(1).map(at));
  painter.end();
}

const turn = () => new Promise((resolve) => setImmediate(resolve));

describe('strokes', () => {
  it('one that begins while the last is being kept goes on from it: nothing is lost', async () => {
    const all = open();
    stroke(all, 10);
    await turn();
    all.loads.splice(0)[0].resolve();
    await turn();
    // The first is on its way; the second begins, and is done.
    stroke(all, 40);
    await turn();
    expect(isPainted(all.seen(), 10) && isPainted(all.seen(), 40)).toBe(true);
    await all.run();
    expect([...all.kept.keys()]).toEqual(['r1']);
    expect([10, 40].map((x) => isPainted(all.kept.get('r1'), x))).toEqual([true, true]);
    expect(all.seen()).toBeNull();
  });

  it('many, quicker than anything is loaded or kept, are all there, in one ripple', async () => {
    const all = open();
    for (let x = 4; x < 60; x += 8) stroke(all, x);
    await all.run();
    await all.painter.settled();
    expect([...all.kept.keys()]).toEqual(['r1']);
    for (let x = 4; x < 60; x += 8) expect(isPainted(all.kept.get('r1'), x), `at ${x}`).toBe(true);
  });

  it('a hand that is up before the paint is loaded has made its stroke, and paints no more on hover', async () => {
    const all = open();
    all.painter.begin(at(20));
    all.painter.move([at(24)]);
    all.painter.end();
    all.painter.move([at(50)]);
    await turn();
    all.loads.splice(0)[0].resolve();
    await turn();
    all.painter.move([at(50)]);
    await all.run();
    expect(isPainted(all.kept.get('r1'), 20)).toBe(true);
    expect(isPainted(all.kept.get('r1'), 50)).toBe(false);
  });

  it('on another ripple leave the one before alone', async () => {
    const all = open();
    stroke(all, 10);
    await all.run();
    stroke(all, 20);
    await turn();
    all.paintOn('other');
    stroke(all, 40);
    await all.run();
    expect([10, 20, 40].map((x) => isPainted(all.kept.get('r1'), x))).toEqual([true, true, false]);
    expect([10, 20, 40].map((x) => isPainted(all.kept.get('other'), x))).toEqual([false, false, true]);
  });

  it('that cannot be kept say so, and are still in what is painted next', async () => {
    const all = open();
    stroke(all, 10);
    await turn();
    all.loads.splice(0)[0].resolve();
    await turn();
    stroke(all, 30);
    await turn();
    all.keeps.splice(0)[0].reject(new Error('No answer.'));
    await all.run();
    expect(all.problems).toEqual([new Error('No answer.')]);
    expect([10, 30].map((x) => isPainted(all.kept.get('r1'), x))).toEqual([true, true]);
  });

  it('that cannot begin say so, and the next one can', async () => {
    const all = open();
    all.painter.begin(at(10));
    await turn();
    all.loads.splice(0)[0].reject(new Error('Gone.'));
    await turn();
    expect(all.problems).toEqual([new Error('Gone.')]);
    stroke(all, 30);
    await all.run();
    expect(isPainted(all.kept.get('r1'), 30)).toBe(true);
  });
});
