import { describe, expect, it } from 'vitest';
import { formatBytes, formatClock, formatRate, formatSeconds, ordinal } from './format.js';

it('weights in three figures, never rounded up to the next unit', () => {
  expect(
    [0, 999, 1000, 9940, 9960, 811_904, 999_400, 999_600, 3_412_000, 34_120_000].map(formatBytes),
  ).toEqual([
    ...['0 B', '999 B', '1.0 KB', '9.9 KB', '10 KB', '812 KB', '999 KB', '1.00 MB', '3.41 MB', '34.1 MB'],
  ]);
});

it('times and rates', () => {
  expect([0, 1.4, 59.999, 61.005, 3599.99].map(formatClock)).toEqual([
    ...['00:00.00', '00:01.40', '01:00.00', '01:01.01', '59:59.99'],
  ]);
  expect(formatSeconds(2.4)).toBe('2.40 s');
  expect([30, 29.97003, 12.5, 12.0833].map(formatRate)).toEqual(['30', '29.97', '12.5', '12.08']);
});

describe('ordinals', () => {
  it('know their endings, also from eleven to thirteen', () => {
    expect([1, 2, 3, 4, 10, 11, 12, 13, 21, 22, 100, 111].map(ordinal)).toEqual(
      '1st 2nd 3rd 4th 10th 11th 12th 13th 21st 22nd 100th 111th'.split(' '),
    );
  });
});
