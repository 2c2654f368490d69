import {
  boxBlur,
  createFrame,
  intersect,
  type Matte,
  matteBytes,
  type PixelFrame,
  type Rect,
  type Size,
} from '../pixels/index.js';
import type { Mask } from '../still/index.js';
import { type ShareRect, type Veil, veilAt } from './veil.js';

/** How large a block is, or how far it is blurred, at full strength; parts of the region's smaller side. */
const COARSEST = 0.5;
/** The reach of each of the three means that a blur is made of, against a block. */
const BLUR_REACH = 0.75;
/** Steps that the reach of a blur is worked out in: more show no more. */
const FINE_BLUR = 4;
/** Blocks and blurs below these parts can be made out again: letters and faces are still told apart. */
const COARSE_ENOUGH = 0.15;
/** Paint at least half there hides wholly; below, it fades. */
const WHOLE_PAINT = 128;

/** Whether what lies behind could be made out or worked out again. */
export function couldBeUndone({ effect, strength }: Pick<Veil, 'effect' | 'strength'>): boolean {
  return effect !== 'plain' && (strength / 100) * COARSEST < COARSE_ENOUGH;
}

/** A picture of the take, and where it lies on the take's canvas. */
export interface VeiledPicture {
  readonly picture: PixelFrame;
  readonly canvas: Size;
  readonly placement: Rect;
}

/**
 * Hides what veils cover at a frame of the take. Every pixel that a region touches is replaced wholly; only
 * outside it, the feather fades.
 * @param painted the masks of painted veils, by their hash.
 * @returns the picture itself where nothing is hidden.
 */
export function hideVeiled(
  { picture, canvas, placement }: VeiledPicture,
  veils: readonly Veil[],
  frame: number,
  painted: ReadonlyMap<string, Mask>,
): PixelFrame {
  let hidden = picture;
  for (const veil of veils) {
    const at = veilAt(veil, frame);
    if (!at) continue;
    const region = regionIn(picture, at, canvas, placement);
    const mask = veil.mask === null ? null : (painted.get(veil.mask) ?? null);
    hidden = hideRegion(hidden, region, veil, mask);
  }
  return hidden;
}

/** Shares of the canvas as pixels of the picture. */
function regionIn(picture: Size, at: ShareRect, canvas: Size, placement: Rect): Rect {
  const across = picture.width / placement.width;
  const down = picture.height / placement.height;
  return {
    x: (at.x * canvas.width - placement.x) * across,
    y: (at.y * canvas.height - placement.y) * down,
    width: at.width * canvas.width * across,
    height: at.height * canvas.height * down,
  };
}

/** How much each pixel of a part of the picture is hidden, 0–1, row by row. */
function coverageOf(veil: Veil, region: Rect, part: Rect, mask: Mask | null): Float32Array {
  if (veil.shape === 'painted') return mask ? paintedCoverage(veil, region, part, mask) : filled(part);
  const isEllipse = veil.shape === 'ellipse';
  const feather = featherOf(veil, region) + 1e-6;
  // Squares of how far a pixel's nearest edge lies outside: what is touched is covered. Of an ellipse, in its
  // half axes from its middle.
  const away = (at: number, from: number, length: number) => {
    if (!isEllipse) return Math.max(from - (at + 1), at - from - length, 0) ** 2;
    return (Math.max(0, Math.abs(at + 0.5 - from - length / 2) - 0.5) / (length / 2)) ** 2;
  };
  const across = Float64Array.from({ length: part.width }, (_, x) =>
    away(part.x + x, region.x, region.width),
  );
  const down = Float64Array.from({ length: part.height }, (_, y) =>
    away(part.y + y, region.y, region.height),
  );
  const inside = isEllipse ? 1 : 0;
  const scale = isEllipse ? Math.min(region.width, region.height) / 2 : 1;
  const shares = new Float32Array(part.width * part.height);
  for (let y = 0, p = 0; y < part.height; y++) {
    for (let x = 0; x < part.width; x++, p++) {
      const square = across[x] + down[y];
      if (square <= inside) shares[p] = 1;
      else shares[p] = Math.max(0, 1 - ((Math.sqrt(square) - inside) * scale) / feather);
    }
  }
  return shares;
}

function filled({ width, height }: Size): Float32Array {
  return new Float32Array(width * height).fill(1);
}

function paintedCoverage({ keys }: Veil, region: Rect, part: Rect, mask: Mask): Float32Array {
  const [first] = keys;
  const shares = new Float32Array(part.width * part.height);
  const columns = Int32Array.from({ length: part.width }, (_, x) => {
    const along = first.x + ((part.x + x + 0.5 - region.x) / region.width) * first.width;
    return Math.floor(along * mask.width);
  });
  for (let y = 0, p = 0; y < part.height; y++) {
    const along = first.y + ((part.y + y + 0.5 - region.y) / region.height) * first.height;
    const row = Math.floor(along * mask.height);
    for (let x = 0; x < part.width; x++, p++) {
      const column = columns[x];
      if (column < 0 || row < 0 || column >= mask.width || row >= mask.height) continue;
      shares[p] = Math.min(1, mask.values[row * mask.width + column] / WHOLE_PAINT);
    }
  }
  return shares;
}

function featherOf({ feather }: Veil, region: Rect): number {
  return (Math.min(region.width, region.height) * feather) / 100;
}

function hideRegion(picture: PixelFrame, region: Rect, veil: Veil, mask: Mask | null): PixelFrame {
  const room = veil.shape === 'painted' ? 1 : Math.ceil(featherOf(veil, region)) + 1;
  const part = intersect(wholeAround(region, room), { x: 0, y: 0, ...picture });
  if (!part) return picture;
  const cover = COVERS[veil.effect](picture, part, region, veil);
  const shares = coverageOf(veil, region, part, mask);
  const out = createFrame(picture.width, picture.height, picture.rgba.slice());
  const words = new Uint32Array(out.rgba.buffer);
  const coverWords = new Uint32Array(cover.buffer);
  for (let y = 0, p = 0; y < part.height; y++) {
    let at = (part.y + y) * picture.width + part.x;
    for (let x = 0; x < part.width; x++, p++, at++) {
      const share = shares[p];
      if (share === 1) words[at] = coverWords[p];
      else if (share > 0) mixInto(out.rgba, at * 4, cover, p * 4, share);
    }
  }
  return out;
}

function mixInto(rgba: Uint8Array, at: number, cover: Uint8Array, from: number, share: number): void {
  for (let c = 0; c < 4; c++) {
    rgba[at + c] = Math.round(rgba[at + c] + (cover[from + c] - rgba[at + c]) * share);
  }
}

function wholeAround({ x, y, width, height }: Rect, room: number): Rect {
  const left = Math.floor(x) - room;
  const top = Math.floor(y) - room;
  return {
    x: left,
    y: top,
    width: Math.ceil(x + width) + room - left,
    height: Math.ceil(y + height) + room - top,
  };
}

/** What lies over a part of a picture: RGBA of the part, in memory of its own. */
type Cover = (picture: PixelFrame, part: Rect, region: Rect, veil: Veil) => Uint8Array;

const COVERS: Record<Veil['effect'], Cover> = {
  plain(_, part, __, { colour }) {
    const cover = new Uint8Array(part.width * part.height * 4);
    const ink = matteBytes(colour as Matte);
    for (let i = 0; i < cover.length; i += 4) cover.set(ink, i);
    return cover;
  },
  /** Means of squares that are laid from the region's corner, so that they move along with it. */
  blocks(picture, part, region, veil) {
    const side = Math.max(2, coarseness(region, veil));
    const column = squares(part.x, part.width, region.x, side);
    const row = squares(part.y, part.height, region.y, side);
    const count = column.count * row.count;
    const [red, green, blue, alpha, pixels] = [0, 1, 2, 3, 4].map(() => new Float64Array(count));
    for (let y = 0; y < part.height; y++) {
      const line = row.of[y] * column.count;
      let i = ((part.y + y) * picture.width + part.x) * 4;
      for (let x = 0; x < part.width; x++, i += 4) {
        const at = line + column.of[x];
        red[at] += picture.rgba[i];
        green[at] += picture.rgba[i + 1];
        blue[at] += picture.rgba[i + 2];
        alpha[at] += picture.rgba[i + 3];
        pixels[at]++;
      }
    }
    const means = new Uint8Array(count * 4);
    for (let at = 0; at < count; at++) {
      const sums = [red[at], green[at], blue[at], alpha[at]];
      means.set(
        sums.map((sum) => Math.round(sum / Math.max(1, pixels[at]))),
        at * 4,
      );
    }
    const meanWords = new Uint32Array(means.buffer);
    const words = new Uint32Array(part.width * part.height);
    for (let y = 0, p = 0; y < part.height; y++) {
      const line = row.of[y] * column.count;
      for (let x = 0; x < part.width; x++, p++) words[p] = meanWords[line + column.of[x]];
    }
    return new Uint8Array(words.buffer);
  },
  /** Worked out on fewer pixels, since what is blurred has no detail to lose. */
  blur(picture, part, region, veil) {
    const radius = Math.max(1, Math.round(coarseness(region, veil) * BLUR_REACH));
    const step = Math.max(1, Math.floor(radius / FINE_BLUR));
    const small = reduced(picture, part, step);
    const reach = Math.max(1, Math.round(radius / step));
    return enlarged(boxBlur(small.values, small, reach), small, part, step);
  },
};

/** The square that each pixel of a row or column belongs to, counted from the first one that is touched. */
function squares(
  from: number,
  length: number,
  origin: number,
  side: number,
): { readonly of: Int32Array; readonly count: number } {
  const square = (i: number) => Math.floor((from + i + 0.5 - origin) / side);
  const first = square(0);
  return {
    of: Int32Array.from({ length }, (_, i) => square(i) - first),
    count: square(length - 1) - first + 1,
  };
}

function coarseness(region: Size, { strength }: Veil): number {
  return Math.min(region.width, region.height) * (strength / 100) * COARSEST;
}

interface Reduced extends Size {
  /** Four channels for each place, row by row. */
  readonly values: Float32Array<ArrayBuffer>;
}

/** A part of a picture, each place the mean of a square of so many pixels. */
function reduced(picture: PixelFrame, part: Rect, step: number): Reduced {
  const width = Math.ceil(part.width / step);
  const height = Math.ceil(part.height / step);
  const values = new Float32Array(width * height * 4);
  const counts = new Float32Array(width * height);
  for (let y = 0; y < part.height; y++) {
    const line = Math.floor(y / step) * width;
    let i = ((part.y + y) * picture.width + part.x) * 4;
    for (let x = 0; x < part.width; x++, i += 4) {
      const at = line + Math.floor(x / step);
      counts[at]++;
      for (let c = 0; c < 4; c++) values[at * 4 + c] += picture.rgba[i + c];
    }
  }
  for (let i = 0; i < values.length; i++) values[i] /= counts[i >> 2];
  return { width, height, values };
}

/** Back to the size of the part, bilinear. */
function enlarged(values: Float32Array, small: Size, part: Size, step: number): Uint8Array {
  const out = new Uint8Array(part.width * part.height * 4);
  const place = (i: number, most: number) => {
    const at = Math.max(0, Math.min(most - 1, (i + 0.5) / step - 0.5));
    const before = Math.min(Math.floor(at), Math.max(0, most - 2));
    return { before, after: Math.min(before + 1, most - 1), share: at - before };
  };
  const columns = Array.from({ length: part.width }, (_, x) => place(x, small.width));
  for (let y = 0, i = 0; y < part.height; y++) {
    const row = place(y, small.height);
    const [upper, lower] = [row.before * small.width, row.after * small.width];
    for (let x = 0; x < part.width; x++, i += 4) {
      const { before, after, share } = columns[x];
      for (let c = 0; c < 4; c++) {
        const top = mix(values[(upper + before) * 4 + c], values[(upper + after) * 4 + c], share);
        const low = mix(values[(lower + before) * 4 + c], values[(lower + after) * 4 + c], share);
        out[i + c] = Math.round(mix(top, low, row.share));
      }
    }
  }
  return out;
}

function mix(one: number, other: number, share: number): number {
  return one + (other - one) * share;
}
