import { describe, expect, it } from 'vitest';
import { createFrame, type PixelFrame, type Size } from '../../pixels/index.js';
import { drawnWall } from '../../testing/drawn-looks.js';
import { seeded } from '../../testing/seeded.js';
import type { LedPlace } from '../../timing/index.js';
import { createLedJoints } from './led-joints.js';

/** Places of a joint of so many pairs: frames 0, 1 … flow into frames 100, 101 … */
function placesOf(count: number): LedPlace[] {
  const pairs = Array.from({ length: count }, (_, n) => ({ from: { source: n }, to: { source: 100 + n } }));
  return pairs.map((_, at) => ({ at, seconds: 0.08, pairs }));
}

type Colour = readonly [red: number, green: number, blue: number, alpha: number];

function drawn(size: Size, colour: (x: number, y: number) => Colour): PixelFrame {
  const frame = createFrame(size.width, size.height);
  for (let y = 0, p = 0; y < size.height; y++) {
    for (let x = 0; x < size.width; x++, p++) frame.rgba.set(colour(x, y), 4 * p);
  }
  return frame;
}

function jointOf(size: Size, count: number, colour: (source: number) => (x: number, y: number) => Colour) {
  const frames = new Map<number, PixelFrame>();
  const joints = createLedJoints(size, ({ source }) => {
    const frame = frames.get(source) ?? drawn(size, colour(source));
    frames.set(source, frame);
    return frame;
  });
  return placesOf(count).map((place) => joints.picture(place));
}

const SIZE = { width: 160, height: 96 };
const wall = drawnWall(7);
const grey = (level: number): Colour => [level, level, level, 255];

/** A patterned disc on a wall. */
const disc = (cx: number, cy: number) => (x: number, y: number) => {
  const [dx, dy] = [x - cx, y - cy];
  return dx * dx + dy * dy < 20 ** 2
    ? grey(205 + 40 * Math.sin(dx / 2.5) * Math.cos(dy / 3))
    : grey(0.6 * wall(x, y));
};

/** The middle of what is light. */
function middleOf({ rgba, width }: PixelFrame): readonly [number, number] {
  let [sum, across, down] = [0, 0, 0];
  for (let p = 0; p < rgba.length / 4; p++) {
    if (rgba[4 * p] < 150) continue;
    sum++;
    across += p % width;
    down += Math.floor(p / width);
  }
  return [across / sum, down / sum];
}

describe('the pictures of a joint that flows', () => {
  it.each([
    [9, 4],
    [-7, 6],
  ])('lead a thing %i px across and %i down, eased, and show it once', (across, down) => {
    const count = 7;
    const pictures = jointOf(SIZE, count, (source) =>
      source < 100 ? disc(70, 46) : disc(70 + across, 46 + down),
    );
    const area = pictures.map(({ rgba }) => rgba.filter((value, i) => i % 4 === 0 && value >= 150).length);
    for (const [n, picture] of pictures.entries()) {
      const t = (n + 1) / (count + 1);
      const moment = t * t * (3 - 2 * t);
      const [x, y] = middleOf(picture);
      expect(Math.abs(x - 70 - moment * across)).toBeLessThan(1);
      expect(Math.abs(y - 46 - moment * down)).toBeLessThan(1);
      // Seen twice it would cover more.
      expect(area[n]).toBeLessThan(1.06 * area[0]);
    }
  });

  it('are the frames themselves where both sides show the same', () => {
    for (const picture of jointOf(SIZE, 5, () => disc(80, 48))) {
      const [truth] = [drawn(SIZE, disc(80, 48))];
      const most = picture.rgba.reduce(
        (worst, value, i) => Math.max(worst, Math.abs(value - truth.rgba[i])),
        0,
      );
      expect(most).toBeLessThanOrEqual(1);
    }
  });

  it('are the same bytes each time, of noise too', () => {
    const noise = (source: number) => {
      const random = seeded(source + 1);
      return (): Colour => [255 * random(), 255 * random(), 255 * random(), 255];
    };
    const [one, other] = [jointOf(SIZE, 4, noise), jointOf(SIZE, 4, noise)];
    expect(one.map(({ rgba }) => rgba)).toEqual(other.map(({ rgba }) => rgba));
  });

  it('show between two colours nothing but what lies between them', () => {
    const [from, to] = [40, 200];
    const levels = jointOf(SIZE, 5, (source) => () => grey(source < 100 ? from : to)).map(({ rgba }) => {
      expect(new Set(rgba.filter((_, i) => i % 4 !== 3)).size).toBe(1);
      return rgba[0];
    });
    expect(levels.every((level) => level > from && level < to)).toBe(true);
    expect([...levels].sort((a, b) => a - b)).toEqual(levels);
  });

  it('let nothing that cannot be seen shine through, and keep what can be seen through', () => {
    const hidden: Colour = [255, 0, 255, 0];
    const ring =
      (cx: number) =>
      (x: number, y: number): Colour =>
        (x - cx) ** 2 + (y - 48) ** 2 < 24 ** 2 ? [60, 160, 110, 255] : hidden;
    for (const { rgba } of jointOf(SIZE, 5, (source) => ring(source < 100 ? 76 : 84))) {
      for (let i = 0; i < rgba.length; i += 4) {
        if (rgba[i + 3] < 8) continue;
        expect(rgba[i]).toBeLessThan(80);
        expect(rgba[i + 2]).toBeLessThan(130);
      }
      expect(rgba[3]).toBe(0);
      expect(rgba[4 * (48 * SIZE.width + 80) + 3]).toBe(255);
    }
  });

  it.each([
    [16, 16],
    [16, 9],
    [1, 1],
    [3, 40],
    [3840, 24],
  ])('can be had in %i × %i px, of two frames too', (width, height) => {
    const size = { width, height };
    const pictures = jointOf(size, 2, (source) => (x, y) => grey((x * 7 + y * 13 + source) % 200));
    expect(pictures).toHaveLength(2);
    for (const picture of pictures) {
      expect([picture.width, picture.height]).toEqual([width, height]);
      expect(picture.rgba.every((value, i) => i % 4 !== 3 || value === 255)).toBe(true);
      expect(Math.max(...picture.rgba.filter((_, i) => i % 4 === 0))).toBeLessThanOrEqual(230);
    }
  });
});
