import {
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
    hidden = hideRegion(hidden, region, veil, coverageOf(veil, region, mask));
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

/** How much a pixel, by its number across and down, is hidden: 0–1. */
type Coverage = (x: number, y: number) => number;

function coverageOf(veil: Veil, region: Rect, mask: Mask | null): Coverage {
  const feather = featherOf(veil, region);
  const faded = (distance: number) => Math.max(0, Math.min(1, 1 - distance / (feather + 1e-6)));
  const right = region.x + region.width;
  const bottom = region.y + region.height;
  // From the nearest edge of the pixel: what is touched is covered.
  const near = (from: number, to: number, at: number) => Math.max(from - (at + 1), at - to, 0);
  if (veil.shape === 'rectangle') {
    return (x, y) => {
      const distance = Math.hypot(near(region.x, right, x), near(region.y, bottom, y));
      return distance === 0 ? 1 : faded(distance);
    };
  }
  const [halfWidth, halfHeight] = [region.width / 2, region.height / 2];
  if (veil.shape === 'ellipse') {
    const smaller = Math.min(halfWidth, halfHeight);
    return (x, y) => {
      const across = Math.max(0, Math.abs(x + 0.5 - region.x - halfWidth) - 0.5) / halfWidth;
      const down = Math.max(0, Math.abs(y + 0.5 - region.y - halfHeight) - 0.5) / halfHeight;
      const out = Math.hypot(across, down);
      return out <= 1 ? 1 : faded((out - 1) * smaller);
    };
  }
  if (!mask) return () => 1;
  const first = veil.keys[0];
  return (x, y) => {
    const across = first.x + ((x + 0.5 - region.x) / region.width) * first.width;
    const down = first.y + ((y + 0.5 - region.y) / region.height) * first.height;
    const column = Math.floor(across * mask.width);
    const row = Math.floor(down * mask.height);
    if (column < 0 || row < 0 || column >= mask.width || row >= mask.height) return 0;
    return Math.min(1, mask.values[row * mask.width + column] / WHOLE_PAINT);
  };
}

function featherOf({ feather }: Veil, region: Rect): number {
  return (Math.min(region.width, region.height) * feather) / 100;
}

function hideRegion(picture: PixelFrame, region: Rect, veil: Veil, coverage: Coverage): PixelFrame {
  const room = veil.shape === 'painted' ? 1 : Math.ceil(featherOf(veil, region)) + 1;
  const part = intersect(wholeAround(region, room), { x: 0, y: 0, ...picture });
  if (!part) return picture;
  const cover = COVERS[veil.effect](picture, part, region, veil);
  const out = createFrame(picture.width, picture.height, picture.rgba.slice());
  for (let y = 0; y < part.height; y++) {
    for (let x = 0; x < part.width; x++) {
      const share = coverage(part.x + x, part.y + y);
      if (share === 0) continue;
      const i = ((part.y + y) * picture.width + part.x + x) * 4;
      const from = (y * part.width + x) * 4;
      for (let c = 0; c < 4; c++) {
        const there = out.rgba[i + c];
        out.rgba[i + c] =
          share === 1 ? cover[from + c] : Math.round(there + (cover[from + c] - there) * share);
      }
    }
  }
  return out;
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

/** What lies over a part of a picture: RGBA of the part. */
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
    const columns = new Map<string, { sum: number[]; count: number }>();
    const blockOf = (x: number, y: number) =>
      `${Math.floor((x + 0.5 - region.x) / side)} ${Math.floor((y + 0.5 - region.y) / side)}`;
    eachPixel(part, (x, y) => {
      const name = blockOf(x, y);
      const block = columns.get(name) ?? { sum: [0, 0, 0, 0], count: 0 };
      columns.set(name, block);
      const i = (y * picture.width + x) * 4;
      for (let c = 0; c < 4; c++) block.sum[c] += picture.rgba[i + c];
      block.count++;
    });
    const cover = new Uint8Array(part.width * part.height * 4);
    let at = 0;
    eachPixel(part, (x, y) => {
      const block = columns.get(blockOf(x, y));
      for (let c = 0; c < 4; c++) cover[at++] = Math.round((block?.sum[c] ?? 0) / (block?.count ?? 1));
    });
    return cover;
  },
  blur(picture, part, region, veil) {
    const radius = Math.max(1, Math.round(coarseness(region, veil) * BLUR_REACH));
    let values = new Float32Array(part.width * part.height * 4);
    let at = 0;
    eachPixel(part, (x, y) => {
      const i = (y * picture.width + x) * 4;
      for (let c = 0; c < 4; c++) values[at++] = picture.rgba[i + c];
    });
    // Three box means are nearly a Gaussian one.
    for (let pass = 0; pass < 3; pass++)
      values = boxMean(boxMean(values, part, radius, true), part, radius, false);
    return Uint8Array.from(values, Math.round);
  },
};

function coarseness(region: Size, { strength }: Veil): number {
  return Math.min(region.width, region.height) * (strength / 100) * COARSEST;
}

function eachPixel({ x, y, width, height }: Rect, visit: (x: number, y: number) => void): void {
  for (let row = y; row < y + height; row++)
    for (let column = x; column < x + width; column++) visit(column, row);
}

/** The mean of so many values to both sides along rows or columns; the ends go on. */
function boxMean(
  values: Float32Array<ArrayBuffer>,
  { width, height }: Size,
  radius: number,
  isAcross: boolean,
): Float32Array<ArrayBuffer> {
  const out = new Float32Array(values.length);
  const [lines, length] = isAcross ? [height, width] : [width, height];
  const [lineStep, step] = isAcross ? [width * 4, 4] : [4, width * 4];
  for (let line = 0; line < lines; line++) {
    for (let c = 0; c < 4; c++) {
      const start = line * lineStep + c;
      const get = (i: number) => values[start + Math.max(0, Math.min(length - 1, i)) * step];
      let sum = 0;
      for (let i = -radius; i <= radius; i++) sum += get(i);
      for (let i = 0; i < length; i++) {
        out[start + i * step] = sum / (2 * radius + 1);
        sum += get(i + radius + 1) - get(i - radius);
      }
    }
  }
  return out;
}
