import { CHROMA_SCALE, type LumaPicture, lumaOf, warpByFlow } from '../../motion/index.js';
import { layOnGrey, type Size, sizeWithin } from '../../pixels/index.js';

/** Side of the pictures that joints are judged on: the longer one, px. */
export const LOOK_SIDE = 160;

/** A frame of a take in small: what can be told of it without seeing it in full. Levels. */
export interface Look {
  readonly luma: LumaPicture;
  /** Cb and Cr about 0, of half the size, rounded up. */
  readonly blue: LumaPicture;
  readonly red: LumaPicture;
}

/** Looks of a take by its frames, all of one size. */
export interface Looks {
  /** Null where that frame is not at hand. */
  at(frame: number): Look | null;
}

/** The size of the looks of frames of a size. */
export function lookSize(size: Size): Size {
  return sizeWithin(size, LOOK_SIDE);
}

function halfOf({ width, height }: Size): Size {
  return { width: Math.ceil(width / 2), height: Math.ceil(height / 2) };
}

/** Bytes of a look as writeLook writes it. @param size of the look. */
export function lookBytes(size: Size): number {
  const half = halfOf(size);
  return size.width * size.height + 2 * half.width * half.height;
}

/**
 * The look of a frame as bytes: luma, then Cb and Cr with 128 for none, each row by row (BT.601, full range). What can
 * be seen through lies on middle grey.
 * @param rgba RGBA8 of the look's size.
 * @param out receives lookBytes(size) bytes.
 */
export function writeLook(rgba: Uint8Array, size: Size, out: Uint8Array): void {
  const seen = layOnGrey(rgba);
  const { values } = lumaOf(seen, size, size);
  const half = halfOf(size);
  const area = half.width * half.height;
  const [blue, red, covered] = [0, 0, 0].map(() => new Float32Array(area));
  for (let y = 0, p = 0; y < size.height; y++) {
    const row = (y >> 1) * half.width;
    for (let x = 0; x < size.width; x++, p++) {
      out[p] = Math.round(values[p]);
      const q = row + (x >> 1);
      blue[q] += CHROMA_SCALE.blue * (seen[4 * p + 2] - values[p]);
      red[q] += CHROMA_SCALE.red * (seen[4 * p] - values[p]);
      covered[q]++;
    }
  }
  const level = (sum: number, q: number) => Math.max(0, Math.min(255, Math.round(128 + sum / covered[q])));
  out.set(blue.map(level), values.length);
  out.set(red.map(level), values.length + area);
}

/** @param bytes as writeLook writes them; of the look's size. */
export function readLook(bytes: Uint8Array, size: Size): Look {
  const half = halfOf(size);
  const [luma, area] = [size.width * size.height, half.width * half.height];
  const plane = (from: number, count: number, zero: number) => {
    const values = new Float32Array(count);
    for (let p = 0; p < count; p++) values[p] = bytes[from + p] - zero;
    return values;
  };
  return {
    luma: { width: size.width, height: size.height, values: plane(0, luma, 0) },
    blue: { ...half, values: plane(luma, area, 128) },
    red: { ...half, values: plane(luma + area, area, 128) },
  };
}

/**
 * A look as if camera and light had been where they were in another one: each pixel shows what lies a shift away, the
 * border repeated.
 * @param shift x and y in shares of the width and the height; light in levels, which is taken out.
 */
export function shiftLook(
  look: Look,
  { x, y, light }: { readonly x: number; readonly y: number; readonly light: number },
): Look {
  if (x === 0 && y === 0 && light === 0) return look;
  const along = ({ width, height }: Size) => ({
    ...{ width, height },
    u: new Float32Array(width * height).fill(x * width),
    v: new Float32Array(width * height).fill(y * height),
  });
  const luma = warpByFlow(look.luma, along(look.luma));
  return {
    luma: { ...luma, values: luma.values.map((value) => value - light) },
    blue: warpByFlow(look.blue, along(look.blue)),
    red: warpByFlow(look.red, along(look.red)),
  };
}

/** What each plane of a look becomes. */
export function mapLook(look: Look, of: (plane: keyof Look) => Float32Array): Look {
  const plane = (name: keyof Look) => ({ ...look[name], values: of(name) });
  return { luma: plane('luma'), blue: plane('blue'), red: plane('red') };
}
