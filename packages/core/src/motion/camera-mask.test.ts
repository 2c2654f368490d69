import { describe, expect, it } from 'vitest';
import { seeded } from '../testing/seeded.js';
import { type FramePair, findCameraMask } from './camera-mask.js';
import type { LumaPicture } from './luma-picture.js';

const [WIDTH, HEIGHT] = [160, 96];

/** Textured ground seen by a camera that strays by dx, dy, and a disc that goes its own way over it. */
function seen(dx: number, dy: number, disc: { x: number; y: number; radius: number } | null, seed = 0) {
  const random = seeded(seed + 1);
  const values = Float32Array.from({ length: WIDTH * HEIGHT }, (_, p) => {
    const [x, y] = [p % WIDTH, Math.floor(p / WIDTH)];
    const [u, v] = [x + dx, y + dy];
    const inside = disc && (x - disc.x) ** 2 + (y - disc.y) ** 2 < disc.radius ** 2;
    const ground = 110 + 35 * Math.sin(u / 5 + Math.cos(v / 9)) + 30 * Math.cos(v / 6 + u / 23);
    return (inside ? 225 + 10 * Math.sin((x - disc.x) / 2) : ground) + 2 * (random() - 0.5);
  });
  return { width: WIDTH, height: HEIGHT, values } satisfies LumaPicture;
}

/** A hand-held camera, px: never far from one frame to the next. */
const shake = (t: number) => [1.6 * Math.sin(t / 21), 1.2 * Math.cos(t / 16)] as const;
const TIMES = Array.from({ length: 9 }, (_, k) => 13 * k + 4);

const pairsOf = (frame: (t: number) => LumaPicture): FramePair[] =>
  TIMES.map((t) => [frame(t), frame(t + 1)]);
const shareOf = (movers: Uint8Array | null) =>
  (movers ?? []).filter((value) => value > 0).length / (WIDTH * HEIGHT);

describe('what moves beside the camera', () => {
  it('need not be left out where it is small: nothing is', () => {
    const frame = (t: number) => seen(...shake(t), { x: 50 + 4 * (t % 3), y: 48, radius: 6 }, t);
    const movers = findCameraMask(seen(...shake(60), { x: 110, y: 48, radius: 6 }), pairsOf(frame));
    expect(movers).not.toBeNull();
    expect(shareOf(movers)).toBe(0);
  });

  it('is left out where it is so large that it is taken for the camera', () => {
    // It fills much of the picture, is textured, and goes its own way by a pixel and a half a frame.
    const frame = (t: number) => {
      const ground = seen(...shake(t), null, t);
      const large = seen(-1.5 * t, 0, null, t);
      for (let p = 0; p < ground.values.length; p++) {
        const [x, y] = [p % WIDTH, Math.floor(p / WIDTH)];
        if (x > 20 && x < 120 && y > 18 && y < 80) ground.values[p] = 1.3 * large.values[p] - 30;
      }
      return ground;
    };
    const mask = findCameraMask(frame(60), pairsOf(frame));
    expect(mask).not.toBeNull();
    expect(mask?.[48 * WIDTH + 70]).toBe(255);
    expect(mask?.[8 * WIDTH + 8]).toBe(0);
    expect(mask?.[90 * WIDTH + 150]).toBe(0);
  });

  it('is not asked of a camera that stands still, however much moves', () => {
    const disc = (t: number) => ({ x: 40 + ((3 * t) % 80), y: 48, radius: 24 });
    expect(
      findCameraMask(
        seen(0, 0, disc(60), 99),
        pairsOf((t) => seen(0, 0, disc(t), t)),
      ),
    ).toBeNull();
    expect(
      findCameraMask(
        seen(0, 0, null, 50),
        pairsOf((t) => seen(0, 0, null, t)),
      ),
    ).toBeNull();
  });

  it('cannot be told where each frame is another picture', () => {
    const frame = (t: number) => seen(37 * t + 20, 23 * t + 11, { x: 80, y: 48, radius: 40 }, t);
    expect(findCameraMask(seen(0, 0, null, 70), pairsOf(frame))).toBeNull();
  });
});
