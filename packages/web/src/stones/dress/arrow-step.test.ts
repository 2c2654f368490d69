import { describe, expect, it } from 'vitest';
import { arrowStep } from './arrow-step.js';

describe('an arrow key', () => {
  it.each([
    ['ArrowLeft', [-1, 0]],
    ['ArrowRight', [1, 0]],
    ['ArrowUp', [0, -1]],
    ['ArrowDown', [0, 1]],
  ] as const)('%s goes a step its way, and ten with Shift', (key, [across, down]) => {
    expect(arrowStep({ key, shiftKey: false })).toEqual([across, down]);
    expect(arrowStep({ key, shiftKey: true })).toEqual([across * 10, down * 10]);
  });

  it('is no other key, nor the name of something that every object has', () => {
    for (const key of ['a', 'Enter', 'Left', 'PageUp', '', 'valueOf']) {
      expect(arrowStep({ key, shiftKey: false })).toBeNull();
    }
  });
});
