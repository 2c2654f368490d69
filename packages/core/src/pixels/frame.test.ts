import { describe, expect, it } from 'vitest';
import { createFrame } from './index.js';

describe('a frame', () => {
  it('over a host’s buffer shares its memory, and copies when it is sliced', () => {
    const bytes = Buffer.from([1, 2, 3, 4, 5, 6, 7, 8]).subarray(0, 8);
    const frame = createFrame(2, 1, bytes);
    bytes[0] = 99;
    expect(frame.rgba[0]).toBe(99);
    const copy = frame.rgba.slice();
    copy[1] = 77;
    expect(frame.rgba[1]).toBe(2);
  });

  it.each([
    [0, 4, 'whole sides'],
    [2.5, 4, 'whole sides'],
    [2, 2, 'needs 16 bytes; got 8'],
  ])('of %f × %i px over eight bytes is refused', (width, height, sentence) => {
    expect(() => createFrame(width, height, new Uint8Array(8))).toThrow(sentence);
  });
});
