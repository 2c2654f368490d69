import type { PixelFrame } from '@muted-pond/core/pixels';
import { around, cloud, draw, hash, mixed, noise, type Scene, turn, WAYS, wall } from './drawing.js';

/** A take drawn for the bench: what moves in it is known. */
export interface DrawnTake {
  readonly name: string;
  /** Frames after which it shows the same again; null: never. */
  readonly period: number | null;
  readonly frames: readonly PixelFrame[];
}

/** What footage is of, each as it repeats and as it does not. @param period frames; null: never. */
export const SCENES: Readonly<Record<string, (period: number | null) => Scene>> = {
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

/** Every scene, as it repeats and as it does not, filmed in every way: one take after the other. */
export function* drawnTakes(): Generator<DrawnTake> {
  for (const [scene, of] of Object.entries(SCENES)) {
    for (const period of [48, null]) {
      for (const way of WAYS) {
        const how = period === null ? 'never the same' : `every ${period} frames`;
        yield { name: `${scene}, ${how}, ${way.name}`, period, frames: draw(of(period), way) };
      }
    }
  }
}
