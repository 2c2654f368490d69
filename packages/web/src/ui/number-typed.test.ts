import { describe, expect, it } from 'vitest';
import { readTyped } from './number-typed.js';

const seconds = { min: 0, max: 7.966, decimals: 2, unit: ' s' };

describe('a typed number', () => {
  it('is taken as it was typed', () => {
    expect(readTyped('5', 1, seconds)).toEqual({ type: 'taken', value: 5 });
    expect(readTyped(0.5, 1, seconds)).toEqual({ type: 'taken', value: 0.5 });
  });

  it('is refused at once with the bound, never moved to it', () => {
    expect(readTyped('60', 1, seconds)).toEqual({ type: 'refused', reason: '7.97 s is the most here.' });
    expect(readTyped('-1', 1, seconds)).toEqual({ type: 'refused', reason: '0 s is the least here.' });
    expect(readTyped('1e999', 1, seconds)).toEqual({ type: 'refused', reason: 'Give a number.' });
    expect(readTyped('three', 1, seconds)).toEqual({ type: 'refused', reason: 'Give a number.' });
  });

  it('that is the bound as it is shown is taken', () => {
    expect(readTyped('7.97', 1, seconds)).toEqual({ type: 'taken', value: 7.966 });
  });

  it('left empty or as it was changes nothing', () => {
    expect(readTyped('', 1, seconds)).toEqual({ type: 'same' });
    expect(readTyped('1', 1, seconds)).toEqual({ type: 'same' });
  });
});
