import { describe, expect, it } from 'vitest';
import { noiseFrame } from '../testing/pictures.js';
import { seeded, wholeFrom } from '../testing/seeded.js';
import {
  createFrame,
  createResizer,
  fitRect,
  intersect,
  largestOfShape,
  layOnMatte,
  matteBytes,
  placePicture,
  TURNS,
  turnFrame,
  turnRect,
  turnRectBack,
} from './index.js';

describe('rectangles', () => {
  it('share what both hold, and nothing where they only touch', () => {
    const a = { x: 0, y: 0, width: 10, height: 10 };
    expect(intersect(a, { x: 4, y: -3, width: 20, height: 6 })).toEqual({ x: 4, y: 0, width: 6, height: 3 });
    expect(intersect(a, { x: 10, y: 0, width: 5, height: 5 })).toBeNull();
  });

  it('are moved and trimmed into their bounds, whole and never empty (seed 2)', () => {
    const random = seeded(2);
    for (let round = 0; round < 300; round++) {
      const bounds = { width: wholeFrom(random, 1, 50), height: wholeFrom(random, 1, 50) };
      const wanted = {
        x: random() * 90 - 20,
        y: random() * 90 - 20,
        width: random() * 80,
        height: random() * 80,
      };
      const rect = fitRect(wanted, bounds);
      for (const value of Object.values(rect)) expect(Number.isInteger(value)).toBe(true);
      expect(rect.width >= 1 && rect.height >= 1 && rect.x >= 0 && rect.y >= 0).toBe(true);
      expect(rect.x + rect.width <= bounds.width && rect.y + rect.height <= bounds.height).toBe(true);
    }
  });

  it('turn with their picture and back (seed 13)', () => {
    const random = seeded(13);
    const within = { width: 31, height: 19 };
    const picture = noiseFrame(31, 19, random);
    for (const turn of TURNS) {
      for (const mirror of [false, true]) {
        const width = wholeFrom(random, 1, 12);
        const height = wholeFrom(random, 1, 12);
        const rect = {
          x: wholeFrom(random, 0, 31 - width),
          y: wholeFrom(random, 0, 19 - height),
          width,
          height,
        };
        const turned = turnRect(rect, within, turn, mirror);
        expect(turnRectBack(turned, within, turn, mirror)).toEqual(rect);
        // The colours inside are the same ones.
        const sum = (frame: typeof picture, r: typeof rect) => {
          let total = 0;
          for (let y = r.y; y < r.y + r.height; y++)
            for (let x = r.x; x < r.x + r.width; x++) total += frame.rgba[(y * frame.width + x) * 4];
          return total;
        };
        expect(sum(turnFrame(picture, turn, mirror), turned)).toBe(sum(picture, rect));
      }
    }
  });
});

describe('placing a picture', () => {
  const frame = { width: 300, height: 200 };
  it('whole, filling, or pulled; the focus says what stays', () => {
    const tall = { width: 100, height: 400 };
    expect(placePicture(tall, frame, 'contain')).toEqual({ x: 125, y: 0, width: 50, height: 200 });
    expect(placePicture(tall, frame, 'cover', { x: 0.5, y: 0 })).toMatchObject({
      x: 0,
      width: 300,
      height: 1200,
    });
    expect(placePicture(tall, frame, 'cover', { x: 0.5, y: 1 }).y).toBe(-1000);
    expect(placePicture(tall, frame, 'stretch')).toEqual({ x: 0, y: 0, ...frame });
  });

  it('always covers when it should, and never leaves when it should not (seed 7)', () => {
    const random = seeded(7);
    for (let round = 0; round < 200; round++) {
      const picture = { width: 1 + random() * 500, height: 1 + random() * 500 };
      const focus = { x: random(), y: random() };
      const cover = placePicture(picture, frame, 'cover', focus);
      expect(cover.x <= 1e-9 && cover.y <= 1e-9).toBe(true);
      expect(cover.x + cover.width >= 300 - 1e-9 && cover.y + cover.height >= 200 - 1e-9).toBe(true);
      const contain = placePicture(picture, frame, 'contain', focus);
      expect(contain.x >= -1e-9 && contain.x + contain.width <= 300 + 1e-9).toBe(true);
      expect(contain.width / contain.height).toBeCloseTo(picture.width / picture.height, 6);
    }
  });

  it('the largest part of a shape lies in the middle', () => {
    expect(largestOfShape({ x: 10, y: 10, width: 100, height: 50 }, { width: 1, height: 1 })).toEqual({
      x: 35,
      y: 10,
      width: 50,
      height: 50,
    });
  });
});

describe('windows of a resizer', () => {
  it('at whole pixels and full size are copies (seed 4)', () => {
    const picture = noiseFrame(40, 30, seeded(4));
    const out = createResizer(picture, { width: 9, height: 7 }, { x: 12, y: 5, width: 9, height: 7 }).resize(
      picture,
    );
    for (let y = 0; y < 7; y++) {
      const from = ((y + 5) * 40 + 12) * 4;
      expect([...out.rgba.subarray(y * 36, y * 36 + 36)]).toEqual([
        ...picture.rgba.subarray(from, from + 36),
      ]);
    }
  });

  it('must lie inside', () => {
    expect(() =>
      createResizer({ width: 10, height: 10 }, { width: 5, height: 5 }, { x: 6, y: 0, width: 5, height: 5 }),
    ).toThrow('leaves the picture of 10 × 10');
  });
});

describe('a matte', () => {
  it('is a colour or nothing', () => {
    expect(matteBytes('transparent')).toEqual([0, 0, 0, 0]);
    expect(matteBytes('#1f8a70')).toEqual([0x1f, 0x8a, 0x70, 255]);
  });

  it('keeps what is see-through where it is nothing, and clips what reaches beyond', () => {
    const picture = createFrame(3, 3);
    picture.rgba.fill(100);
    const out = layOnMatte(picture, { width: 4, height: 4 }, { x: 2, y: -1 }, 'transparent');
    const alphas = Array.from({ length: 16 }, (_, p) => out.rgba[p * 4 + 3]);
    expect(alphas).toEqual([0, 0, 100, 100, 0, 0, 100, 100, 0, 0, 0, 0, 0, 0, 0, 0]);
  });
});
