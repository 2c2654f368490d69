import { describe, expect, it } from 'vitest';
import type { Turn } from '../pixels/index.js';
import { type Framing, WHOLE_PICTURE } from '../recipe/index.js';
import { createMask, movingShare } from '../still/index.js';
import { composedSize, composeMask } from './index.js';

const CANVAS = { width: 80, height: 60 };
/** Moves in the left upper quarter. */
const quarter = createMask(
  80,
  60,
  Uint8Array.from({ length: 4800 }, (_, p) => (p % 80 < 40 && p < 2400 ? 255 : 0)),
);

function framed(framing: Framing, width = 80) {
  const size = composedSize(CANVAS, framing, width);
  const placement = { x: 0, y: 0, ...CANVAS };
  return composeMask(quarter, { canvas: CANVAS, placement, matte: '#ffffff', framing, size });
}
const at = (mask: ReturnType<typeof framed>, x: number, y: number) =>
  mask.values[Math.floor(y * mask.height) * mask.width + Math.floor(x * mask.width)];

describe('a mask on its way to the frames', () => {
  it('is cropped, made smaller and keeps its values: none is taken for light', () => {
    expect(framed(WHOLE_PICTURE).values).toEqual(quarter.values);
    const cropped = framed({ ...WHOLE_PICTURE, crop: { x: 20, y: 0, width: 40, height: 60 } });
    expect(movingShare(cropped)).toBeCloseTo(0.25, 2);
    const half = composeMask(createMask(80, 60, new Uint8Array(4800).fill(128)), {
      ...{ canvas: CANVAS, placement: { x: 0, y: 0, ...CANVAS }, matte: '#ffffff' },
      ...{ framing: WHOLE_PICTURE, size: { width: 40, height: 30 } },
    });
    for (const value of half.values) expect(Math.abs(value - 128)).toBeLessThanOrEqual(1);
  });

  it.each([
    [90, 0.75, 0.25],
    [180, 0.75, 0.75],
    [270, 0.25, 0.75],
  ])('is turned by %i degrees as the picture is', (turn, x, y) => {
    const mask = framed({ ...WHOLE_PICTURE, turn: turn as Turn });
    expect(at(mask, x, y)).toBe(255);
    expect(movingShare(mask)).toBeCloseTo(0.25, 2);
    const mirrored = framed({ ...WHOLE_PICTURE, turn: turn as Turn, mirror: true });
    expect(at(mirrored, 1 - x, y)).toBe(255);
  });

  it('holds what lies beside the picture in its box', () => {
    const box = { width: 120, height: 60, fit: 'contain', matte: '#336699' } as const;
    const mask = framed({ ...WHOLE_PICTURE, box }, 120);
    expect([mask.width, mask.height]).toEqual([120, 60]);
    expect(at(mask, 0.05, 0.2)).toBe(0);
    expect(at(mask, 0.3, 0.2)).toBe(255);
  });
});
