import { describe, expect, it } from 'vitest';
import { createLookStore, lookBytes, readLook, writeLook } from './index.js';

const SIZE = { width: 16, height: 12 };
const FRAMES = 100;
const BYTES = lookBytes(SIZE);

/** Every frame shows a slope that lies by its number. */
function packed(frame: number): Uint8Array {
  const rgba = new Uint8Array(SIZE.width * SIZE.height * 4).fill(255);
  for (let p = 0; p < SIZE.width * SIZE.height; p++) {
    rgba.fill(50 + 8 * (p % SIZE.width) + (frame % 40), 4 * p, 4 * p + 3);
  }
  const out = new Uint8Array(BYTES);
  writeLook(rgba, SIZE, out);
  return out;
}

function opened() {
  const read: [number, number][] = [];
  let failures = 0;
  const store = createLookStore(SIZE, FRAMES, async (from, to) => {
    read.push([from, to]);
    if (failures-- > 0) throw new Error('The server does not answer.');
    const out = new Uint8Array((to - from) * BYTES);
    for (let frame = from; frame < to; frame++) out.set(packed(frame), (frame - from) * BYTES);
    return out;
  });
  return {
    ...{ store, read },
    fail: () => {
      failures = 1;
    },
  };
}

describe('looks that are read when they are needed', () => {
  it('are those of their frames, read once, in runs, and none outside of the take', async () => {
    const { store, read } = opened();
    expect(store.at(5)).toBeNull();
    await store.load([5, 40, 99, -3, 100, 4000]);
    expect(read).toEqual([
      [0, 64],
      [96, 100],
    ]);
    for (const frame of [0, 5, 63, 96, 99]) expect(store.at(frame)).toEqual(readLook(packed(frame), SIZE));
    for (const frame of [-1, 64, 95, 100]) expect(store.at(frame)).toBeNull();
    await store.load([1, 2, 3, 50, 98]);
    await store.load([]);
    expect(read).toHaveLength(2);
    await store.load([70]);
    expect(read.at(-1)).toEqual([64, 96]);
  });

  it('are the same object each time, since movements between them are remembered by it', async () => {
    const { store } = opened();
    await store.load([7]);
    expect(store.at(7)).toBe(store.at(7));
  });

  it('are waited for together, and read again after a failure', async () => {
    const { store, read, fail } = opened();
    fail();
    const both = await Promise.allSettled([store.load([3]), store.load([4])]);
    expect(both.map(({ status }) => status)).toEqual(['rejected', 'rejected']);
    expect(read).toHaveLength(1);
    await store.load([3]);
    expect(store.at(3)).not.toBeNull();
    expect(read).toHaveLength(2);
  });

  it('can be seen with what strays taken out', async () => {
    const { store } = opened();
    await store.load([10]);
    const view = store.shifted((frame) => ({ x: frame / 10 / SIZE.width, y: 0, light: 5 }));
    const [plain, shifted] = [store.at(10), view.at(10)];
    // One pixel of the slope further, and 5 levels darker.
    for (const p of [18, 25, 100]) {
      expect(shifted?.luma.values[p]).toBeCloseTo((plain?.luma.values[p] ?? 0) + 8 - 5, 3);
    }
    expect(store.shifted(() => ({ x: 0, y: 0, light: 0 })).at(10)).toEqual(plain);
    expect(view.at(80)).toBeNull();
  });
});
