import type { Rect } from '../pixels/index.js';
import type { Mask } from './mask.js';

export interface Brush {
  /** px of the mask. */
  readonly radius: number;
  /** Share of the radius over which it fades to nothing, 0–1. */
  readonly softness: number;
  /** How much one stroke does at most, 0–1. */
  readonly strength: number;
  /** Stir paints movement in, calm paints it out. */
  readonly way: 'stir' | 'calm';
}

export interface StrokePoint {
  readonly x: number;
  readonly y: number;
  /** Of a pen, 0–1; 1 for a mouse. */
  readonly pressure: number;
}

/**
 * One stroke on a mask: what it covers is the most of any of its parts, so that crossing oneself paints no
 * darker.
 */
export interface Stroke {
  /**
   * Paints from the last point to this one.
   * @returns the pixels that may have changed, whole and inside the mask.
   */
  add(point: StrokePoint): Rect;
}

/**
 * Begins a stroke on a mask, which is painted in place; what it was before is kept by whoever wants it back.
 */
export function beginStroke(mask: Mask, brush: Brush): Stroke {
  const before = mask.values.slice();
  const covered = new Uint8Array(mask.values.length);
  let last: StrokePoint | null = null;
  return {
    add(point) {
      const from = last ?? point;
      last = point;
      return paintCapsule(mask, before, covered, from, point, brush);
    },
  };
}

/**
 * How much is covered at a share of the radius: whole in the core, nothing at the rim, with level ends
 * (smoothstep).
 */
function profile(share: number, softness: number): number {
  if (share >= 1) return 0;
  const core = 1 - softness;
  if (share <= core) return 1;
  const t = (1 - share) / softness;
  return t * t * (3 - 2 * t);
}

/** Everything within the radius of the line between two points. */
function paintCapsule(
  mask: Mask,
  before: Uint8Array,
  covered: Uint8Array,
  from: StrokePoint,
  to: StrokePoint,
  { radius, softness, strength, way }: Brush,
): Rect {
  const { width, height, values } = mask;
  const left = Math.max(0, Math.floor(Math.min(from.x, to.x) - radius));
  const right = Math.min(width, Math.ceil(Math.max(from.x, to.x) + radius) + 1);
  const top = Math.max(0, Math.floor(Math.min(from.y, to.y) - radius));
  const bottom = Math.min(height, Math.ceil(Math.max(from.y, to.y) + radius) + 1);
  const [dx, dy] = [to.x - from.x, to.y - from.y];
  const squared = dx * dx + dy * dy;
  for (let y = top; y < bottom; y++) {
    for (let x = left; x < right; x++) {
      const [px, py] = [x + 0.5 - from.x, y + 0.5 - from.y];
      const along = squared > 0 ? Math.max(0, Math.min(1, (px * dx + py * dy) / squared)) : 0;
      const away = Math.hypot(px - along * dx, py - along * dy);
      if (away >= radius) continue;
      const pressure = from.pressure + (to.pressure - from.pressure) * along;
      const amount = Math.round(255 * profile(away / radius, softness) * strength * pressure);
      const i = y * width + x;
      if (amount <= covered[i]) continue;
      covered[i] = amount;
      values[i] = way === 'stir' ? Math.max(before[i], amount) : Math.min(before[i], 255 - amount);
    }
  }
  return { x: left, y: top, width: Math.max(0, right - left), height: Math.max(0, bottom - top) };
}
