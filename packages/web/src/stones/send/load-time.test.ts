import { describe, expect, it } from 'vitest';
import { loadTimeOf } from './load-time.js';

const file = { bytes: 375_000, frameBytes: [90_000, 140_000, 140_000], frames: 3 };

describe('when a file is seen', () => {
  it('is its header and first frame over the line, then all of it', () => {
    // 3 Mbit/s are 375 000 bytes a second; 5 000 stand around the frames.
    expect(loadTimeOf(file, 3)).toEqual({ firstSeconds: 95_000 / 375_000, wholeSeconds: 1 });
    expect(loadTimeOf(file, 6).wholeSeconds).toBe(0.5);
  });

  it('counts every round of a movie that repeats', () => {
    const long = { ...file, bytes: 745_000, frames: 6 };
    expect(loadTimeOf(long, 3).firstSeconds).toBeCloseTo(95_000 / 375_000, 9);
  });

  it('takes a file without known frames as a whole', () => {
    const { firstSeconds, wholeSeconds } = loadTimeOf({ bytes: 1000, frameBytes: [], frames: 1 }, 1);
    expect(firstSeconds).toBe(wholeSeconds);
  });
});
