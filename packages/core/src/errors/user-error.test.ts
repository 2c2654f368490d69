import { describe, expect, it } from 'vitest';
import { sentenceOf, USER_ERROR_CODES, UserError, WENT_WRONG } from './index.js';

describe('what a person is shown of an error', () => {
  it('is the sentence that was meant for people', () => {
    const logged: unknown[] = [];
    const error = new UserError('too_heavy', 'It weighs too much. Shorten it.');
    expect(sentenceOf(error, (one) => logged.push(one))).toBe('It weighs too much. Shorten it.');
    expect(logged).toEqual([]);
  });

  it('is never a raw message, which goes to the log with its stack', () => {
    for (const error of [
      new TypeError('x is undefined'),
      new RangeError('Invalid array length'),
      'text',
      null,
    ]) {
      const logged: unknown[] = [];
      expect(sentenceOf(error, (one) => logged.push(one))).toBe(WENT_WRONG);
      expect(logged).toEqual([error]);
    }
  });

  it('has a code that stands for one thing', () => {
    expect(new Set(USER_ERROR_CODES).size).toBe(USER_ERROR_CODES.length);
  });
});
