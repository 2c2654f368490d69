import { describe, expect, it } from 'vitest';
import { SHIPPED_LIMITS } from '../testing/shipped-limits.js';
import { checkLimit } from './index.js';

const [, blog, advert] = SHIPPED_LIMITS;
const file = { bytes: 110_000, width: 336, height: 280, frames: 60, durationMs: 6000 };

describe('a limit', () => {
  it('is kept by a file that is just as large', () => {
    expect(checkLimit(advert, { ...file, bytes: 120_000, durationMs: 20_000 })).toEqual([]);
    expect(checkLimit(blog, { ...file, height: 4000 })).toEqual([]);
  });

  it('names all in which a file is over it', () => {
    const over = checkLimit(
      { ...advert, frameRate: 8 },
      { ...file, bytes: 120_001, width: 400, height: 300, durationMs: 21_000, frames: 300, hasAlpha: true },
    );
    expect(over.map(({ what }) => what)).toEqual([
      'bytes',
      'width',
      'height',
      'seconds',
      'frameRate',
      'alpha',
    ]);
    expect(over[0]).toEqual({ what: 'bytes', is: 120_001, most: 120_000 });
  });

  it('lets whole hundredths of a second round the rate', () => {
    // 12 fps is 8.33 hundredths, so 8 and 9 by turns.
    expect(checkLimit({ ...blog, frameRate: 12 }, { ...file, frames: 25, durationMs: 2040 })).toEqual([]);
    expect(checkLimit({ ...blog, frameRate: 12 }, { ...file, frames: 25, durationMs: 1500 })).toHaveLength(1);
  });
});
