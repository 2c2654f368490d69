import { describe, expect, it } from 'vitest';
import { createFrame, mixFrames, type PixelFrame } from '../../pixels/index.js';
import { seeded } from '../../testing/seeded.js';
import { createInBetween } from './index.js';

const SIZE = { width: 160, height: 120 };
type Scene = (x: number, y: number) => readonly [red: number, green: number, blue: number, alpha?: number];

/** A wall with something to see at several scales. */
function wallOf(seed: number): Scene {
  const random = seeded(seed);
  const waves = Array.from({ length: 20 }, (_, i) => {
    const turn = 2 * Math.PI * random();
    const length = 7 * 1.2 ** i;
    return {
      x: (2 * Math.PI * Math.cos(turn)) / length,
      y: (2 * Math.PI * Math.sin(turn)) / length,
      at: random() * 6,
    };
  });
  return (x, y) => {
    const level = waves.reduce((sum, wave) => sum + 6 * Math.sin(wave.x * x + wave.y * y + wave.at), 128);
    return [level, 0.8 * level + 20, 230 - 0.7 * level];
  };
}

function drawn(scene: Scene, size = SIZE): PixelFrame {
  const frame = createFrame(size.width, size.height);
  for (let y = 0, i = 0; y < size.height; y++) {
    for (let x = 0; x < size.width; x++, i += 4) {
      const [red, green, blue, alpha = 255] = scene(x, y);
      for (const [c, value] of [red, green, blue, alpha].entries()) {
        frame.rgba[i + c] = Math.max(0, Math.min(255, Math.round(value)));
      }
    }
  }
  return frame;
}

/** Peak signal to noise, dB, of what lies away from the border. */
function psnr(a: PixelFrame, b: PixelFrame, border = 16): number {
  let [sum, count] = [0, 0];
  for (let y = border; y < a.height - border; y++) {
    for (let x = border; x < a.width - border; x++) {
      for (let c = 0; c < 3; c++) {
        const i = 4 * (y * a.width + x) + c;
        sum += (a.rgba[i] - b.rgba[i]) ** 2;
        count++;
      }
    }
  }
  return 10 * Math.log10(255 ** 2 / Math.max(1e-9, sum / count));
}

const between = (a: PixelFrame, b: PixelFrame, moment: number) => createInBetween(a).frame(a, b, moment);
const blended = (a: PixelFrame, b: PixelFrame, moment: number) => mixFrames([a, b], [1 - moment, moment]);

/** Turned about the middle and moved, by a share of all of it. */
const moved = (scene: Scene, share: number): Scene => {
  const angle = 0.09 * share;
  const [cos, sin] = [Math.cos(angle), Math.sin(angle)];
  return (x, y) => {
    const [dx, dy] = [x - 80 - 7.3 * share, y - 60 + 4.1 * share];
    return scene(80 + cos * dx + sin * dy, 60 - sin * dx + cos * dy);
  };
};

describe('a picture between two', () => {
  it.each([1, 2, 3])('shows things where they are at that moment (seed %i)', (seed) => {
    const wall = wallOf(seed);
    const [a, b] = [0, 1].map((share) => drawn(moved(wall, share)));
    for (const moment of [0.25, 0.5, 0.8]) {
      const truth = drawn(moved(wall, moment));
      const made = psnr(between(a, b, moment), truth);
      expect(made).toBeGreaterThan(36);
      expect(made).toBeGreaterThan(psnr(blended(a, b, moment), truth) + 8);
    }
  });

  it('shows something that moves over a ground that stays', () => {
    const [wall, thing] = [wallOf(4), wallOf(9)];
    const at =
      (share: number): Scene =>
      (x, y) =>
        (x - 60 - 11 * share) ** 2 + (y - 60 - 5 * share) ** 2 < 26 ** 2
          ? thing(x - 11 * share, y - 5 * share)
          : wall(x, y);
    const [a, b] = [0, 1].map((share) => drawn(at(share)));
    const truth = drawn(at(0.5));
    expect(psnr(between(a, b, 0.5), truth)).toBeGreaterThan(psnr(blended(a, b, 0.5), truth) + 3);
  });

  it('is the first at its beginning and the second at its end', () => {
    const [a, b] = [0, 1].map((share) => drawn(moved(wallOf(5), share)));
    const maker = createInBetween(SIZE);
    const [first, last] = [0, 1].map((moment) => maker.frame(a, b, moment));
    expect(first.rgba).toEqual(a.rgba);
    expect(last.rgba).toEqual(b.rgba);
  });

  it('is nearly the same from both sides', () => {
    const [a, b] = [0, 1].map((share) => drawn(moved(wallOf(6), share)));
    expect(psnr(between(a, b, 0.3), between(b, a, 0.7))).toBeGreaterThan(40);
  });

  it('is hardly worse than a mixture where nothing leads from one to the other', () => {
    const random = seeded(12);
    const noise = () => drawn(() => [255 * random(), 255 * random(), 255 * random()]);
    const [a, b, truth] = [noise(), noise(), drawn(wallOf(2))];
    expect(psnr(between(a, b, 0.5), truth)).toBeGreaterThan(psnr(blended(a, b, 0.5), truth) - 0.3);
  });

  it('lets what is clear bring no colour in', () => {
    // A white disc on a ground that is clear, and red where nobody sees it.
    const disc =
      (at: number): Scene =>
      (x, y) =>
        (x - at) ** 2 + (y - 60) ** 2 < 900 ? [255, 255, 255, 255] : [255, 0, 0, 0];
    const { rgba } = between(drawn(disc(70)), drawn(disc(78)), 0.5);
    for (let i = 0; i < rgba.length; i += 4) {
      if (rgba[i + 3] > 0) expect(Math.min(rgba[i + 1], rgba[i + 2])).toBeGreaterThan(250);
    }
    expect(rgba[4 * (60 * SIZE.width + 74) + 3]).toBe(255);
    expect(rgba[4 * (5 * SIZE.width + 5) + 3]).toBe(0);
  });

  it.each([
    [1, 1],
    [2, 9],
    [16, 16],
    [700, 3],
  ])('can be had of %i × %i px, and of one colour', (width, height) => {
    const grey = drawn(() => [90, 120, 60], { width, height });
    expect(between(grey, grey, 0.5).rgba).toEqual(grey.rgba);
  });

  it('is found in small for frames that are large', () => {
    const size = { width: 960, height: 400 };
    const wall = wallOf(7);
    const at = (share: number) => drawn((x, y) => wall(x / 2 - 9 * share, y / 2), size);
    const [a, b] = [at(0), at(1)];
    const truth = at(0.5);
    expect(psnr(between(a, b, 0.5), truth, 60)).toBeGreaterThan(psnr(blended(a, b, 0.5), truth, 60) + 6);
  });

  it('refuses frames of two sizes', () => {
    const [a, b] = [drawn(wallOf(1)), drawn(wallOf(1), { width: 160, height: 100 })];
    expect(() => between(a, b, 0.5)).toThrow();
  });
});
