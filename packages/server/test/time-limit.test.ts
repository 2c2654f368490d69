import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { TimeLimit } from '../src/ffmpeg/time-limit.js';
import { decodeFrames, probeHere } from '../src/media/index.js';
import { clipFolder, numberedFrames } from './clips.js';

describe('a time limit', () => {
  beforeEach(() => void vi.useFakeTimers({ toFake: ['setTimeout', 'clearTimeout', 'performance'] }));
  afterEach(() => void vi.useRealTimers());

  it('does not count the time in which nobody asks for more', () => {
    const over = vi.fn();
    const limit = new TimeLimit(100, over);
    for (let turn = 0; turn < 9; turn++) {
      limit.begin();
      vi.advanceTimersByTime(10);
      limit.pause();
      // Whoever takes the frames is slow: steadying, say.
      vi.advanceTimersByTime(5000);
    }
    expect([limit.isOver, over.mock.calls.length]).toEqual([false, 0]);
    limit.begin();
    vi.advanceTimersByTime(9);
    expect(over).not.toHaveBeenCalled();
    vi.advanceTimersByTime(1);
    expect([limit.isOver, over.mock.calls.length]).toEqual([true, 1]);
    expect(limit.error()).toMatchObject({
      code: 'too_slow',
      message: expect.stringContaining('longer than 0 s'),
    });
  });

  it('begun or paused twice counts once', () => {
    const limit = new TimeLimit(100);
    limit.begin();
    vi.advanceTimersByTime(30);
    limit.begin();
    limit.pause();
    limit.pause();
    vi.advanceTimersByTime(500);
    limit.begin();
    vi.advanceTimersByTime(69);
    expect(limit.isOver).toBe(false);
    vi.advanceTimersByTime(1);
    expect(limit.isOver).toBe(true);
  });
});

it('a decoder that takes too long is ended, and told as too slow', async () => {
  const clips = clipFolder();
  try {
    const path = clips.make('long.mp4', ...numberedFrames(200, 20), '-c:v', 'libx264');
    const facts = await probeHere(path, 'long.mp4');
    const frames = Array.from({ length: 200 }, (_, i) => i);
    const request = { path, name: 'long.mp4', facts, frames, size: facts, format: 'rgba' as const };
    const read = async () => {
      for await (const _ of decodeFrames({ ...request, timeLimitMs: 1 })) expect.fail('A frame came.');
    };
    await expect(read()).rejects.toMatchObject({ code: 'too_slow' });
  } finally {
    clips.remove();
  }
});
