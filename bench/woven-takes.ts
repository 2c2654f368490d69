import { createFrame, type PixelFrame } from '@muted-pond/core/pixels';

/** A take drawn for the bench: what moves in it is known. */
export interface DrawnTake {
  readonly name: string;
  /** Frames after which it shows the same again; null: never. */
  readonly period: number | null;
  readonly frames: readonly PixelFrame[];
}

/** What scenes are laid out for, and the size they are drawn in. */
const LAID_OUT = { width: 320, height: 180 };
const DRAWN_SIZE = { width: 240, height: 136 };
const COUNT = 140;

type Colour = readonly [red: number, green: number, blue: number];
/** The colour of a place, px, at a time, frames. */
type Scene = (x: number, y: number, t: number) => Colour;

/** A number 0–1 for each place of a lattice. */
function hash(x: number, y: number, z: number): number {
  let h = Math.imul(x | 0, 374761393) ^ Math.imul(y | 0, 668265263) ^ Math.imul(z | 0, 2147483647);
  h = Math.imul(h ^ (h >>> 13), 1274126177);
  return ((h ^ (h >>> 16)) >>> 0) / 4294967296;
}

const ease = (t: number) => t * t * (3 - 2 * t);

/** Smooth noise 0–1 over three axes. */
function noise(x: number, y: number, z: number): number {
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
const cloud = (x: number, y: number, z: number) =>
  0.55 * noise(x, y, z) + 0.3 * noise(2 * x, 2 * y, 2 * z + 9) + 0.15 * noise(4 * x, 4 * y, 4 * z + 5);

/** Noise that comes round: mixed with itself a period earlier, so that it meets where the period ends. */
function around(period: number | null, of: (t: number) => number, t: number): number {
  if (period === null) return of(t);
  const at = ((t % period) + period) % period;
  const share = at / period;
  return of(at) * (1 - share) + of(at - period) * share;
}

const mixed = (a: Colour, b: Colour, share: number): Colour => [
  a[0] + (b[0] - a[0]) * share,
  a[1] + (b[1] - a[1]) * share,
  a[2] + (b[2] - a[2]) * share,
];

/** Something to stand behind: textured, so that a camera can be found. */
function wall(x: number, y: number): Colour {
  const grain = 40 * noise(x / 7, y / 7, 3) + 25 * noise(x / 23, y / 23, 4);
  const tile = (Math.floor(x / 40) + Math.floor(y / 36)) % 2 === 0 ? 14 : 0;
  return [96 + grain + tile, 88 + grain + tile, 78 + 0.8 * grain];
}

const turn = (t: number, period: number) => (2 * Math.PI * t) / period;

/** What footage is of, each as it repeats and as it does not. @param period frames; null: never. */
const SCENES: Readonly<Record<string, (period: number | null) => Scene>> = {
  water: (period) => (x, y, t) => {
    if (y < 70) return wall(x, y);
    const level = around(period, (at) => cloud(x / 22, y / 9, at / 14), t);
    return mixed([38, 74, 92], [150, 190, 200], Math.max(0, 1.8 * level - 0.45));
  },
  leaves: (period) => {
    const p = period ?? 61.7;
    return (x, y, t) => {
      const gust = period === null ? 4 * noise(t / 17, x / 90, 1) - 2 : 0;
      const sway = 3 * Math.sin(turn(t, p) + x / 40) + gust;
      const leaf = noise((x + sway) / 8, (y + 0.4 * sway) / 8, 2);
      return x > 110 && leaf > 0.45 ? [50 + 90 * leaf, 90 + 110 * leaf, 40] : wall(x, y);
    };
  },
  cloth: (period) => {
    const p = period ?? 58.3;
    return (x, y, t) => {
      if (x < 60 || x > 250) return wall(x, y);
      const extra = period === null ? 1.2 * Math.sin(turn(t, 83.1) + y / 31) : 0;
      const fold = Math.sin(x / 9 + 1.4 * Math.sin(turn(t, p) + y / 50) + extra);
      return [150 + 45 * fold, 110 + 40 * fold, 120 + 40 * fold];
    };
  },
  smoke: (period) => (x, y, t) => {
    const narrow = Math.exp(-(((x - 160) / (14 + (180 - y) / 5)) ** 2));
    const risen = around(period, (at) => cloud(x / 18, (y + 2.6 * at) / 24, at / 40), t);
    return mixed(wall(x, y), [235, 235, 232], Math.max(0, 1.7 * risen - 0.5) * narrow);
  },
  flames: (period) => (x, y, t) => {
    const bed = Math.exp(-(((x - 160) / 60) ** 2)) * Math.min(1, y / 150);
    const lick = around(period, (at) => cloud(x / 13, (y + 5 * at) / 17, at / 9), t);
    const hot = Math.max(0, Math.min(1, 2.4 * lick * bed - 0.35));
    return hot < 0.5
      ? mixed(wall(x, y), [200, 60, 20], 2 * hot)
      : mixed([200, 60, 20], [255, 230, 140], 2 * hot - 1);
  },
  crowd: (period) => (x, y, t) => {
    for (let k = 0; k < 6; k++) {
      const way = k % 2 === 0 ? 1 : -1;
      const round = period ?? 173 + 31 * k;
      const at = (hash(k, 1, 1) + (way * t) / round) % 1;
      const middle = -30 + 380 * ((at + 1) % 1);
      const top = 70 + 9 * k;
      if (Math.abs(x - middle) < 11 && y > top && y < top + 75) {
        return [60 + 150 * hash(k, 2, 1), 60 + 150 * hash(k, 3, 1), 60 + 150 * hash(k, 4, 1)];
      }
    }
    return wall(x, y);
  },
  hand: (period) => (x, y, t) => {
    const p = period ?? 97;
    const drift = period === null ? 0.6 * t : 0;
    const [u, v] = [x - 150 - 50 * Math.cos(turn(t, p)) - 0.3 * drift, y - 90 - 28 * Math.sin(turn(t, p))];
    const angle = period === null ? t / 21 : turn(t, p);
    const [a, b] = [u * Math.cos(angle) + v * Math.sin(angle), v * Math.cos(angle) - u * Math.sin(angle)];
    if (Math.abs(a) < 34 && Math.abs(b) < 22) return [205 - a, 150 + b, 120 + 0.5 * a];
    return wall(x, y);
  },
  screen: (period) => (x, y, t) => {
    if (x < 30 || x > 290 || y < 20 || y > 160) return wall(x, y);
    const scrolled = y + (period === null ? 1.5 * t : (80 * t) / period);
    const line = Math.floor(scrolled / 10);
    const row = period === null ? line : ((line % 8) + 8) % 8;
    const isInk = scrolled - 10 * line < 5 && hash(Math.floor(x / 5), row, 7) > 0.35;
    return isInk ? [40, 44, 50] : [236, 236, 230];
  },
};

/** How it is filmed. */
const WAYS = [
  { name: 'steady, clean', shake: 0, grain: 0 },
  { name: 'hand-held, noisy', shake: 1.2, grain: 5 },
] as const;

/** Every scene, as it repeats and as it does not, filmed in every way: one take after the other. */
export function* drawnTakes(): Generator<DrawnTake> {
  for (const [scene, of] of Object.entries(SCENES)) {
    for (const period of [48, null]) {
      for (const { name, shake, grain } of WAYS) {
        const how = period === null ? 'never the same' : `every ${period} frames`;
        yield { name: `${scene}, ${how}, ${name}`, period, frames: draw(of(period), shake, grain) };
      }
    }
  }
}

function draw(scene: Scene, shake: number, grain: number): PixelFrame[] {
  const { width, height } = DRAWN_SIZE;
  const scale = LAID_OUT.width / width;
  return Array.from({ length: COUNT }, (_, t) => {
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
