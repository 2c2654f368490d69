import { describe, expect, it } from 'vitest';
import { LINEAR_FROM_SRGB8, LINEAR_MAX, linearToSrgb, SRGB8_FROM_LINEAR, srgbToLinear } from './srgb.js';

describe('the tables of light', () => {
  it('hold for each of 65536 values the byte that the standard’s function is nearest to', () => {
    expect(SRGB8_FROM_LINEAR).toHaveLength(LINEAR_MAX + 1);
    const wrong = [...SRGB8_FROM_LINEAR].findIndex(
      (byte, value) => byte !== Math.round(linearToSrgb(value / LINEAR_MAX) * 255),
    );
    expect(wrong).toBe(-1);
  });

  it('bring every byte to light and back', () => {
    const back = Array.from(LINEAR_FROM_SRGB8, (value) => SRGB8_FROM_LINEAR[Math.round(value)]);
    expect(back).toEqual(Array.from({ length: 256 }, (_, byte) => byte));
  });

  it('follow the standard where it says numbers: the end of the straight part, and middle grey', () => {
    expect(srgbToLinear(0.04045)).toBeCloseTo(0.0031308, 6);
    expect(srgbToLinear(0.5)).toBeCloseTo(0.214041, 6);
    expect(linearToSrgb(srgbToLinear(0.3))).toBeCloseTo(0.3, 12);
  });
});
