import { describe, expect, it } from 'vitest';
import { createFrame } from '../pixels/index.js';
import { seeded } from '../testing/seeded.js';
import {
  createAlignTemplate,
  IDENTITY,
  type LumaPicture,
  mapMotion,
  type Similarity,
  warpFrame,
} from './index.js';

const [WIDTH, HEIGHT] = [320, 180];

interface Look {
  /** Where the plate's points lie in this picture. */
  readonly at?: Similarity;
  readonly gain?: number;
  readonly offset?: number;
  /** Middle of a ball that moves, px. */
  readonly ball?: number | null;
  readonly seed?: number;
}

/** A textured place as a formula, so that any camera can look at it exactly. */
function look({ at = IDENTITY, gain = 1, offset = 0, ball = null, seed = 1 }: Look): LumaPicture {
  const random = seeded(seed);
  const values = new Float32Array(WIDTH * HEIGHT);
  for (let p = 0; p < values.length; p++) {
    const [x, y] = [p % WIDTH, Math.floor(p / WIDTH)];
    const u = (x + 0.5) / WIDTH - 0.5 - at.x;
    const v = (y + 0.5 - HEIGHT / 2) / WIDTH - at.y;
    // The inverse of a small turn and stretch.
    const pu = (u + at.turn * v) / (1 + at.stretch);
    const pv = (v - at.turn * u) / (1 + at.stretch);
    const [a, b] = [pu * WIDTH, pv * WIDTH];
    let level = 120 + 40 * Math.sin(a / 9 + 2 * Math.cos(b / 13)) + 35 * Math.cos(b / 7 + a / 31);
    if (ball !== null && Math.hypot(x - ball, y - 90) < 22) level = 230;
    values[p] = level * gain + offset + (random() - 0.5) * 4;
  }
  return { width: WIDTH, height: HEIGHT, values };
}

/** How far two similarities carry points apart, px of 320, worst of the corners. */
function apart(a: Similarity, b: Similarity): number {
  return Math.max(
    ...[-0.45, 0.45].flatMap((u) =>
      [-0.25, 0.25].map((v) => {
        const dx = (a.stretch - b.stretch) * u - (a.turn - b.turn) * v + a.x - b.x;
        const dy = (a.turn - b.turn) * u + (a.stretch - b.stretch) * v + a.y - b.y;
        return Math.hypot(dx, dy) * WIDTH;
      }),
    ),
  );
}

describe('aligning a frame to the plate', () => {
  const template = createAlignTemplate(look({}));

  it.each([
    [{ x: 0.004, y: -0.002, stretch: 0, turn: 0 }],
    [{ x: -0.011, y: 0.006, stretch: 0, turn: 0.004 }],
    [{ x: 0.002, y: 0.001, stretch: 0.006, turn: -0.002 }],
    [{ x: 0.03, y: 0.02, stretch: 0, turn: 0.01 }],
  ])('finds %o to a twentieth of a pixel, under grain and other light', (at) => {
    const found = template.register(look({ at, gain: 1.08, offset: -5, seed: 7 }));
    expect(found.kind).toBe('similarity');
    expect(apart(found.similarity, at)).toBeLessThan(0.12);
    expect(found.after).toBeLessThan(found.before);
  });

  it('is not led astray by what moves when that is left out', () => {
    const at = { x: 0.006, y: 0.003, stretch: 0, turn: 0.001 };
    const ignored = Uint8Array.from({ length: WIDTH * HEIGHT }, (_, p) => {
      const [x, y] = [p % WIDTH, Math.floor(p / WIDTH)];
      return x > 90 && x < 230 && y > 60 && y < 120 ? 255 : 0;
    });
    const careful = createAlignTemplate(look({ ball: 120 }), ignored);
    expect(apart(careful.register(look({ at, ball: 200, seed: 3 })).similarity, at)).toBeLessThan(0.12);
  });

  it('does not trust a flat picture, nor another scene', () => {
    const flat: LumaPicture = {
      width: WIDTH,
      height: HEIGHT,
      values: new Float32Array(WIDTH * HEIGHT).fill(90),
    };
    expect(createAlignTemplate(flat).register(flat).kind).toBe('none');
    const random = seeded(11);
    const noise: LumaPicture = { ...flat, values: Float32Array.from(flat.values, () => random() * 255) };
    const other = template.register(noise);
    expect(apart(other.similarity, IDENTITY)).toBeLessThan(40);
  });

  it('warps a frame back onto the plate, the border from the plate', () => {
    const at = { x: 0.02, y: 0, stretch: 0, turn: 0 };
    const rgba = (picture: LumaPicture) =>
      createFrame(
        WIDTH,
        HEIGHT,
        Uint8Array.from({ length: WIDTH * HEIGHT * 4 }, (_, i) =>
          i % 4 === 3 ? 255 : picture.values[i >> 2],
        ),
      );
    const plate = rgba(look({}));
    const back = warpFrame(rgba(look({ at, seed: 5 })), at, plate);
    let off = 0;
    for (let i = 0; i < back.rgba.length; i += 4) off += Math.abs(back.rgba[i] - plate.rgba[i]);
    expect(off / (WIDTH * HEIGHT)).toBeLessThan(2.5);
    // The frame shows nothing of the plate's last columns.
    const last = (90 * WIDTH + WIDTH - 1) * 4;
    expect(back.rgba[last]).toBe(plate.rgba[last]);
  });
});

describe('warping', () => {
  const noisy = (seed: number, alpha: number) => {
    const random = seeded(seed);
    return createFrame(
      48,
      30,
      Uint8Array.from({ length: 48 * 30 * 4 }, (_, i) => (i % 4 === 3 ? alpha : Math.floor(random() * 256))),
    );
  };

  it.each([4, 17, 29])('by words and by alpha give the same to a few levels (seed %i)', (seed) => {
    const random = seeded(seed);
    const at = {
      x: (random() - 0.5) / 10,
      y: (random() - 0.5) / 10,
      stretch: (random() - 0.5) / 50,
      turn: (random() - 0.5) / 20,
    };
    const fast = warpFrame(noisy(seed, 255), at, noisy(seed + 1, 255));
    const slow = warpFrame(noisy(seed, 254), at, noisy(seed + 1, 254));
    for (let i = 0; i < fast.rgba.length; i++) {
      // A sixteenth of a pixel between two that are 255 apart.
      if (i % 4 !== 3) expect(Math.abs(fast.rgba[i] - slow.rgba[i])).toBeLessThanOrEqual(18);
      else expect(fast.rgba[i]).toBe(255);
    }
  });

  it('by whole pixels is a move, and leaves alone what is not wanted', () => {
    const [frame, plate] = [noisy(2, 255), noisy(3, 255)];
    const at = { x: 3 / 48, y: -2 / 48, stretch: 0, turn: 0 };
    const wanted = Uint8Array.from({ length: 48 * 30 }, (_, p) => (p % 48 < 20 ? 1 : 0));
    const warped = warpFrame(frame, at, plate, wanted);
    for (let p = 0; p < wanted.length; p++) {
      const [x, y] = [p % 48, Math.floor(p / 48)];
      const from = wanted[p] && y >= 2 ? frame.rgba[((y - 2) * 48 + x + 3) * 4] : plate.rgba[p * 4];
      expect(warped.rgba[p * 4]).toBe(from);
    }
  });
});

describe('the map of what moves', () => {
  it('finds the ball and its path, and nothing else, though camera and light stray', () => {
    const frames = Array.from({ length: 30 }, (_, i) =>
      look({
        at: {
          x: 0.002 * Math.sin(i / 5),
          y: 0.0015 * Math.cos(i / 7),
          stretch: 0,
          turn: 0.0006 * Math.sin(i / 9),
        },
        gain: 1 + 0.04 * Math.sin(i / 6),
        ball: 160 + 50 * Math.sin(i / 4),
        seed: i,
      }),
    );
    const { labels, parts } = mapMotion(frames);
    let [both, either] = [0, 0];
    for (let p = 0; p < labels.length; p++) {
      const [x, y] = [p % WIDTH, Math.floor(p / WIDTH)];
      const isPath = Math.hypot(x - Math.max(110, Math.min(210, x)), y - 90) < 22;
      if (isPath && labels[p]) both++;
      if (isPath || labels[p]) either++;
    }
    expect(both / either).toBeGreaterThan(0.85);
    expect(parts[0].area).toBeGreaterThan(0.8 * both);
  });

  it('is empty where nothing moves', () => {
    const frames = Array.from({ length: 12 }, (_, i) => look({ seed: i }));
    expect(mapMotion(frames).parts).toEqual([]);
  });
});
