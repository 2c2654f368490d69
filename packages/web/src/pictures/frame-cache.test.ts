import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { createFrameCache } from './frame-cache.js';

const bitmap = { close() {} } as ImageBitmap;
let requests = 0;
let status = 200;
let time = 0;

beforeEach(() => {
  requests = 0;
  status = 200;
  time = 0;
  vi.stubGlobal('createImageBitmap', async () => bitmap);
  vi.stubGlobal('fetch', async () => {
    requests++;
    return new Response(JSON.stringify({ title: 'Not now.' }), { status });
  });
});
afterEach(() => vi.unstubAllGlobals());

const open = () =>
  createFrameCache(
    (frame) => `/frames/${frame}`,
    () => time,
  );

/** Asks as often as a playing stage does: 60 times a second. */
async function playFor(cache: ReturnType<typeof open>, seconds: number): Promise<void> {
  for (let frame = 0; frame < seconds * 60; frame++) {
    time += 1000 / 60;
    await cache.load('f').catch(() => {});
  }
}

describe('frames that cannot be had', () => {
  it('are asked for a few times, with longer and longer pauses, and then no more', async () => {
    const cache = open();
    status = 503;
    await playFor(cache, 1);
    expect(requests).toBe(2);
    await playFor(cache, 120);
    expect(requests).toBe(6);
    await playFor(cache, 600);
    expect(requests).toBe(6);
    await expect(cache.load('f')).rejects.toThrow('Not now.');
    // Looking ahead does not ask either.
    cache.prefetch(['f', 'f']);
    expect(requests).toBe(6);
  });

  it('are asked for at once when the server is there again', async () => {
    const cache = open();
    status = 503;
    await playFor(cache, 200);
    status = 200;
    cache.forgive();
    expect(await cache.load('f')).toBe(bitmap);
  });

  it('and never will be, are asked for once', async () => {
    const cache = open();
    status = 404;
    await playFor(cache, 60);
    expect(requests).toBe(1);
  });

  it('leave no trace once they come', async () => {
    const cache = open();
    status = 503;
    await playFor(cache, 0.1);
    status = 200;
    await playFor(cache, 1);
    expect(requests).toBe(2);
    expect(cache.get('f')).toBe(bitmap);
  });
});
