import { describe, expect, it, vi } from 'vitest';
import { createFrameCache } from '../pictures/frame-cache.js';
import { frameDue, framesAhead } from './playback.js';

const times = { starts: [0, 0.1, 0.2, 0.5, 0.6], duration: 1 };

describe('playing a span', () => {
  it('shows each frame for as long as it lasts, and goes round', () => {
    const span = { start: 1, end: 5 };
    const shown = [0, 0.05, 0.11, 0.39, 0.41, 0.51, 0.89, 0.91, 1.01].map((t) => frameDue(times, span, 1, t));
    expect(shown).toEqual([1, 1, 2, 2, 3, 4, 4, 1, 2]);
  });

  it('begins where it was, or at the nearest end of the span', () => {
    expect(frameDue(times, { start: 1, end: 4 }, 3, 0)).toBe(3);
    expect(frameDue(times, { start: 1, end: 4 }, 0, 0)).toBe(1);
    expect(frameDue(times, { start: 1, end: 4 }, 4, 0)).toBe(3);
  });

  it('of one frame stays on it', () => {
    for (const t of [0, 0.05, 7]) expect(frameDue(times, { start: 2, end: 3 }, 2, t)).toBe(2);
  });

  it('fetches ahead round the joint, nothing twice', () => {
    expect(framesAhead({ start: 10, end: 14 }, 12, 3)).toEqual([13, 10, 11]);
    expect(framesAhead({ start: 10, end: 12 }, 11, 9)).toEqual([10, 11]);
  });
});

describe('the frame cache', () => {
  it('asks for each frame once, keeps it, and closes what it keeps', async () => {
    const closed: number[] = [];
    let asked = 0;
    vi.stubGlobal('fetch', async (url: string) => {
      asked++;
      return {
        ok: !url.endsWith('/9'),
        blob: async () => url,
        json: async () => ({ title: 'Frame 9 is damaged.' }),
      };
    });
    vi.stubGlobal('createImageBitmap', async (url: string) => {
      const frame = Number(url.split('/').at(-1));
      return { frame, close: () => closed.push(frame) };
    });
    try {
      const cache = createFrameCache((key) => `frames/${key}`);
      expect(cache.get('3')).toBeNull();
      const [first, second] = await Promise.all([cache.load('3'), cache.load('3')]);
      expect(first).toBe(second);
      expect(cache.get('3')).toBe(first);
      expect(asked).toBe(1);
      await expect(cache.load('9')).rejects.toThrow('Frame 9 is damaged.');
      for (let frame = 10; frame < 200; frame++) await cache.load(String(frame));
      expect(cache.get('3')).toBeNull();
      expect(closed).toContain(3);
      const before = asked;
      await cache.load('3');
      expect(asked).toBe(before);
      cache.clear();
      expect(cache.get('199')).toBeNull();
      expect(closed.length).toBeGreaterThan(150);
    } finally {
      vi.unstubAllGlobals();
    }
  });
});
