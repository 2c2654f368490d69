import { describe, expect, it } from 'vitest';
import { moveEnd, moveLine, proposeLine, UPRIGHT } from './slice-line.js';

describe('the line of a slice', () => {
  it('moves as a whole, and stays on the picture', () => {
    expect(moveLine(UPRIGHT, 0.2, 0.1)).toEqual({ from: [0.7, 0], to: [0.7, 1] });
    expect(moveLine(UPRIGHT, 2, 0)).toEqual({ from: [1, 0], to: [1, 1] });
    const slanted = { from: [0.2, 0.3], to: [0.6, 0.5] } as const;
    const moved = moveLine(slanted, -0.5, 0.4);
    expect(moved.from[0]).toBeCloseTo(0, 9);
    expect(moved.to[0]).toBeCloseTo(0.4, 9);
    expect(moved.to[1]).toBeCloseTo(0.9, 9);
  });

  it('is turned by its ends, and never becomes nothing', () => {
    const turned = moveEnd(UPRIGHT, 'to', 0.9, 0.4);
    expect(turned).toEqual({ from: [0.5, 0], to: [0.9, 0.4] });
    expect(moveEnd(UPRIGHT, 'from', -3, 7)).toEqual({ from: [0, 1], to: [0.5, 1] });
    expect(moveEnd(UPRIGHT, 'to', 0.51, 0.01)).toBe(UPRIGHT);
  });

  it('is proposed where most moves: a column for what rises, a row for what goes across', () => {
    const [width, height] = [64, 36];
    const moments = (isLit: (x: number, y: number, t: number) => boolean) =>
      Array.from({ length: 6 }, (_, t) =>
        Uint8Array.from({ length: width * height }, (_, p) =>
          isLit(p % width, Math.floor(p / width), t) ? 200 : 40,
        ),
      );
    const rising = proposeLine(
      moments((x, y, t) => Math.abs(x - 20) < 2 && (y + 5 * t) % 12 < 6),
      width,
      height,
    );
    expect(rising.from[0]).toBe(rising.to[0]);
    expect(Math.abs(rising.from[0] * width - 20.5)).toBeLessThan(2);
    expect([rising.from[1], rising.to[1]]).toEqual([0, 1]);
    const across = proposeLine(
      moments((x, y, t) => Math.abs(y - 9) < 2 && (x + 7 * t) % 16 < 8),
      width,
      height,
    );
    expect(across.from[1]).toBe(across.to[1]);
    expect(Math.abs(across.from[1] * height - 9.5)).toBeLessThan(2);
  });
});
