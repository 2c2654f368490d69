import { seeded } from '../../packages/core/src/testing/seeded.js';

/** Seeded random numbers, so that the demo footage is the same on every machine. */
export const seededRandom = seeded;

const LATTICE = 64;

/** Smooth noise −1 … 1 over three axes that repeats every 64 units. */
export function valueNoise(seed: number): (x: number, y: number, z: number) => number {
  const random = seededRandom(seed);
  const values = Float32Array.from({ length: LATTICE ** 3 }, () => random() * 2 - 1);
  const at = (x: number, y: number, z: number) => values[((z & 63) << 12) | ((y & 63) << 6) | (x & 63)];
  return (x, y, z) => {
    const x0 = Math.floor(x);
    const y0 = Math.floor(y);
    const z0 = Math.floor(z);
    const fx = ease(x - x0);
    const fy = ease(y - y0);
    const fz = ease(z - z0);
    const near = mix(
      mix(at(x0, y0, z0), at(x0 + 1, y0, z0), fx),
      mix(at(x0, y0 + 1, z0), at(x0 + 1, y0 + 1, z0), fx),
      fy,
    );
    const far = mix(
      mix(at(x0, y0, z0 + 1), at(x0 + 1, y0, z0 + 1), fx),
      mix(at(x0, y0 + 1, z0 + 1), at(x0 + 1, y0 + 1, z0 + 1), fx),
      fy,
    );
    return mix(near, far, fz);
  };
}

export function mix(a: number, b: number, share: number): number {
  return a + (b - a) * share;
}

export function smoothstep(low: number, high: number, value: number): number {
  return ease(Math.max(0, Math.min(1, (value - low) / (high - low))));
}

function ease(t: number): number {
  return t * t * (3 - 2 * t);
}
