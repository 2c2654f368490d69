import { expect, it } from 'vitest';
import { retryAfter } from './retry.js';

it('waits twice as long each time, never longer than may be, and ends', () => {
  const plan = { firstMs: 500, longestMs: 3000, most: 6 };
  const waits = [1, 2, 3, 4, 5, 6, 7].map((failures) => retryAfter(failures, plan));
  expect(waits).toEqual([500, 1000, 2000, 3000, 3000, null, null]);
});
