import { createFrame, type PixelFrame } from '@muted-pond/core/pixels';

/** What scenes are laid out for, and the size they are drawn in. */
const LAID_OUT = { width: 320, height: 180 };
const DRAWN_SIZE = { width: 240, height: 136 };
/** Frames of a take. */
export const DRAWN_COUNT = 140;

export type Colour = readonly [red: number, green: number, blue: number];
/** The colour of a place, px, at a time, frames. */
export type Scene = (x: number, y: number, t: number) => Colour;

/** A number 0–1 for each place of a lattice. */
export function hash(x: number, y: number, z: number): number {
  let h = Math.imul(x | 0, 374761393) ^ Math.imul(y | 0, 668265263) ^ Math.imul(z | 0, 2147483647);
  h = Math.imul(h ^ (h >>> 13), 1274126177);
  return ((h ^ (h >>> 16)) >>> 0) / 4294967296;
}

const ease = (t: number) => t * t * (3 - 2 * t);

/** Smooth noise 0–1 over three axes. */
export function noise(x: number, y: number, z: number): number {
  const x0 = Math.floor(x);
  const y0 = Math.floor(y);
  const z0 = Math.floor(z);
  const u = ease(x - x0);
  const v = ease(y - y0);
  const w = ease(z - z0);
  let sum = 0;
  for (let k = 0; k < 2; k++) {
    const top = hash(x0, y0, z0 + k) * (1 - u) + hash(x0 + 1, y0, z0 + k) * u;
    const bottom = hash(x0, y0 + 1, z0 + k) * (1 - u) + hash(x0 + 1, y0 + 1, z0 + k) * u;
    sum += (top * (1 - v) + bottom * v) * (k === 0 ? 1 - w : w);
  }
  return sum;
}

/** Finer and finer noise laid over each other. */
export const cloud = (x: number, y: number, z: number) =>
  0.55 * noise(x, y, z) + 0.3 * noise(2 * x, 2 * y, 2 * z + 9) + 0.15 * noise(4 * x, 4 * y, 4 * z + 5);

/** Noise that comes round: mixed with itself a period earlier, so that it meets where the period ends. */
export function around(period: number | null, of: (t: number) => number, t: number): number {
  if (period === null) return of(t);
  const at = ((t % period) + period) % period;
  const share = at / period;
  return of(at) * (1 - share) + of(at - period) * share;
}

export const mixed = (a: Colour, b: Colour, share: number): Colour => [
  a[0] + (b[0] - a[0]) * share,
  a[1] + (b[1] - a[1]) * share,
  a[2] + (b[2] - a[2]) * share,
];

/** Something to stand behind: textured, so that a camera can be found. */
export function wall(x: number, y: number): Colour {
  const grain = 40 * noise(x / 7, y / 7, 3) + 25 * noise(x / 23, y / 23, 4);
  const tile = (Math.floor(x / 40) + Math.floor(y / 36)) % 2 === 0 ? 14 : 0;
  return [96 + grain + tile, 88 + grain + tile, 78 + 0.8 * grain];
}

export const turn = (t: number, period: number) => (2 * Math.PI * t) / period;

/** How it is filmed. */
export const WAYS = [
  { name: 'steady, clean', shake: 0, grain: 0 },
  { name: 'hand-held, noisy', shake: 1.2, grain: 5 },
] as const;

export type Filmed = { readonly shake: number; readonly grain: number };

/** The frames of a take of a scene, as it is filmed so. */
export function draw(scene: Scene, { shake, grain }: Filmed): PixelFrame[] {
  const { width, height } = DRAWN_SIZE;
  const scale = LAID_OUT.width / width;
  return Array.from({ length: DRAWN_COUNT }, (_, t) => {
    const frame = createFrame(width, height);
    const dx = shake * 2 * (noise(t / 6, 0, 31) - 0.5);
    const dy = shake * 2 * (noise(t / 6, 0, 32) - 0.5);
    for (let y = 0, i = 0; y < height; y++) {
      for (let x = 0; x < width; x++, i += 4) {
        const colour = scene(x * scale + dx, y * scale + dy, t);
        const speck = grain === 0 ? 0 : grain * (hash(x, y, t) + hash(x, y, t + 999) - 1) * 1.7;
        for (let c = 0; c < 3; c++) {
          frame.rgba[i + c] = Math.max(0, Math.min(255, Math.round(colour[c] + speck)));
        }
        frame.rgba[i + 3] = 255;
      }
    }
    return frame;
  });
}
