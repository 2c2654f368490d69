import type { PixelFrame, Size } from '../pixels/index.js';

/** Side of the squares in which texture is measured, px. */
export const SIDE = 8;

/** What goes through the pixels of pictures of one size. */
export interface MaskingTools {
  /** One a square, row-major: sums of the variances of luma, and of colour; what is put there is spread. */
  readonly lights: Float32Array;
  readonly colours: Float32Array;
  /** Adds the variances of a picture, squared levels. */
  measure(frame: PixelFrame): void;
  /** What stands in `lights`, at each pixel: bilinear between the squares' middles. */
  spreadLights(): Float32Array;
  /** What stands in `colours`, likewise, in whole steps from `least`: 0 … most. */
  classify(least: number, step: number, most: number): Uint8Array;
}

/** Reference implementation, used where no kernel can run. */
export function startPlainMasking({ width, height }: Size): MaskingTools {
  const across = Math.ceil(width / SIDE);
  const down = Math.ceil(height / SIDE);
  const lights = new Float32Array(across * down);
  const colours = new Float32Array(across * down);
  const variances = new Float64Array(2);
  return {
    lights,
    colours,
    measure(frame) {
      for (let by = 0, block = 0; by < down; by++) {
        for (let bx = 0; bx < across; bx++, block++) {
          measureVariances(frame, bx, by, variances);
          lights[block] += variances[0];
          colours[block] += variances[1];
        }
      }
    },
    spreadLights: () => spread(lights, across, down, width, height),
    classify: (least, step, most) =>
      Uint8Array.from(spread(colours, across, down, width, height), (value) =>
        Math.max(0, Math.min(most, Math.round((value - least) / step))),
      ),
  };
}

/** Of luma, and the mean of those of the two colour differences in BT.601's scales, squared levels. */
function measureVariances(
  { rgba, width, height }: PixelFrame,
  bx: number,
  by: number,
  out: Float64Array,
): void {
  const right = Math.min(width, (bx + 1) * SIDE);
  const bottom = Math.min(height, (by + 1) * SIDE);
  let sum = 0;
  let blues = 0;
  let reds = 0;
  let squares = 0;
  let chromaSquares = 0;
  let count = 0;
  for (let y = by * SIDE; y < bottom; y++) {
    for (let x = bx * SIDE; x < right; x++, count++) {
      const at = (y * width + x) * 4;
      const luma = 0.299 * rgba[at] + 0.587 * rgba[at + 1] + 0.114 * rgba[at + 2];
      const blue = (rgba[at + 2] - luma) * 0.564;
      const red = (rgba[at] - luma) * 0.713;
      sum += luma;
      blues += blue;
      reds += red;
      squares += luma * luma;
      chromaSquares += blue * blue + red * red;
    }
  }
  const [light, blue, red] = [sum / count, blues / count, reds / count];
  out[0] = Math.max(0, squares / count - light * light);
  out[1] = Math.max(0, (chromaSquares / count - blue * blue - red * red) / 2);
}

/** Bilinear between the squares' middles. */
function spread(
  blocks: Float32Array,
  across: number,
  down: number,
  width: number,
  height: number,
): Float32Array {
  const out = new Float32Array(width * height);
  for (let y = 0, p = 0; y < height; y++) {
    const v = Math.max(0, Math.min(down - 1, (y + 0.5) / SIDE - 0.5));
    const y0 = Math.floor(v);
    const y1 = Math.min(down - 1, y0 + 1);
    const fy = v - y0;
    for (let x = 0; x < width; x++, p++) {
      const u = Math.max(0, Math.min(across - 1, (x + 0.5) / SIDE - 0.5));
      const x0 = Math.floor(u);
      const x1 = Math.min(across - 1, x0 + 1);
      const fx = u - x0;
      const above = blocks[y0 * across + x0] * (1 - fx) + blocks[y0 * across + x1] * fx;
      const below = blocks[y1 * across + x0] * (1 - fx) + blocks[y1 * across + x1] * fx;
      out[p] = above * (1 - fy) + below * fy;
    }
  }
  return out;
}
