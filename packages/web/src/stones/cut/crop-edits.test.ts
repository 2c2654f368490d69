import { turnedSize } from '@muted-pond/core/pixels';
import { newRecipe } from '@muted-pond/core/recipe';
import { describe, expect, it } from 'vitest';
import { seeded, wholeFrom } from '../../../../core/src/testing/seeded.js';
import { SHIPPED_LIMITS } from '../../../../core/src/testing/shipped-limits.js';
import { cropToShape, limitShapes, SHAPES, shapeById, shapedRect, turnBy, withCrop } from './crop-edits.js';

const picture = { width: 1280, height: 720 };
const recipe = newRecipe('e'.repeat(64), { starts: [0, 1], duration: 2 });

describe('a crop of a shape', () => {
  it('is the largest around the middle, as the picture stands', () => {
    expect(cropToShape(picture, recipe.framing, { width: 1, height: 1 }, null)).toEqual({
      x: 280,
      y: 0,
      width: 720,
      height: 720,
    });
    const turned = { ...recipe.framing, turn: 90 as const };
    // 9:16 as it stands is 16:9 as it lies: the whole picture.
    expect(cropToShape(picture, turned, { width: 9, height: 16 }, null)).toEqual({ x: 0, y: 0, ...picture });
  });

  it('is as large as the one that was drawn, around its middle, whichever shapes were tried', () => {
    const drawn = { x: 400, y: 100, width: 400, height: 400 };
    const wide = cropToShape(picture, recipe.framing, { width: 4, height: 1 }, drawn);
    expect(wide).toEqual({ x: 200, y: 200, width: 800, height: 200 });
    expect(cropToShape(picture, recipe.framing, { width: 1, height: 1 }, drawn)).toEqual(drawn);
  });

  it('keeps its shape to the pixel and stays inside (seed 19)', () => {
    const random = seeded(19);
    for (const { size } of [...SHAPES, ...limitShapes(SHIPPED_LIMITS)]) {
      if (!size) continue;
      for (let round = 0; round < 40; round++) {
        const wanted = {
          x: wholeFrom(random, -200, 1400),
          y: wholeFrom(random, -200, 900),
          width: wholeFrom(random, 20, 2000),
          height: wholeFrom(random, 20, 2000),
        };
        const rect = shapedRect(wanted, size, picture);
        expect(rect.x >= 0 && rect.y >= 0 && rect.x + rect.width <= 1280 && rect.y + rect.height <= 720).toBe(
          true,
        );
        expect(Math.abs(rect.width - (rect.height * size.width) / size.height)).toBeLessThanOrEqual(
          size.width / size.height + 1,
        );
      }
    }
  });

  it('of all the picture is none', () => {
    expect(withCrop(recipe, { x: 0, y: 0, ...picture }, picture).framing.crop).toBeNull();
    const crop = { x: 1, y: 0, width: 1279, height: 720 };
    expect(withCrop(recipe, crop, picture).framing.crop).toEqual(crop);
  });

  it('knows its shapes and the limits’ numbers', () => {
    expect(shapeById('chat-square', SHIPPED_LIMITS).size).toEqual({ width: 320, height: 320 });
    expect(shapeById('nowhere', SHIPPED_LIMITS).id).toBe('free');
    expect(limitShapes(SHIPPED_LIMITS).every((shape) => shape.limit?.height !== null)).toBe(true);
  });
});

describe('quarter turns', () => {
  it('go round in four, and look the same way in a mirror', () => {
    let turned = recipe;
    const seen: number[] = [];
    for (let i = 0; i < 4; i++) {
      turned = turnBy(turned, 90);
      seen.push(turned.framing.turn);
    }
    expect(seen).toEqual([90, 180, 270, 0]);
    const mirrored = { ...recipe, framing: { ...recipe.framing, mirror: true } };
    expect(turnBy(mirrored, 90).framing.turn).toBe(270);
    expect(turnedSize(picture, turnBy(recipe, 270).framing.turn)).toEqual({ width: 720, height: 1280 });
  });
});
