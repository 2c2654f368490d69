import { describe, expect, it } from 'vitest';
import { seeded } from '../testing/seeded.js';
import type { LumaPicture } from './luma-picture.js';
import { findMovers } from './movers.js';

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

const shake = (k: number) => [1.6 * Math.sin(2.1 * k), 1.2 * Math.cos(1.3 * k)] as const;
const disc = (k: number, radius: number) => ({ x: 40 + 8 * k, y: 48, radius });

describe('what moves beside the camera', () => {
  it('is found where the camera shakes and something crosses the picture', () => {
    const samples = Array.from({ length: 8 }, (_, k) =>
      seen(...shake(k + 1), { x: 50 + 4 * (k % 3), y: 48, radius: 12 }, k),
    );
    const movers = findMovers(seen(0, 0, { x: 110, y: 48, radius: 12 }), samples);
    expect(movers).not.toBeNull();
    const at = (x: number, y: number) => movers?.[y * WIDTH + x];
    expect(at(54, 48)).toBe(255);
    expect(at(110, 48)).toBe(255);
    expect(at(20, 10)).toBe(0);
    expect(at(150, 90)).toBe(0);
    const share = (movers ?? []).filter((value) => value > 0).length / (WIDTH * HEIGHT);
    expect(share).toBeLessThan(0.4);
  });

  it('is not asked of a camera that stands still, however much moves', () => {
    const samples = Array.from({ length: 8 }, (_, k) => seen(0, 0, disc(k, 14), k));
    expect(findMovers(seen(0, 0, disc(9, 14), 99), samples)).toBeNull();
    const still = Array.from({ length: 6 }, (_, k) => seen(0, 0, null, k));
    expect(findMovers(seen(0, 0, null, 50), still)).toBeNull();
  });

  it('cannot be told where each frame is another picture', () => {
    const samples = Array.from({ length: 6 }, (_, k) => seen(37 * k + 20, 23 * k + 11, disc(k, 60), k));
    expect(findMovers(seen(0, 0, null, 70), samples)).toBeNull();
  });
});
