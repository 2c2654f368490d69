import type { LumaPicture } from '../../motion/index.js';
import { type Blocks, blockMeans } from './blocks.js';
import { type Look, mapLook } from './look.js';

/** How much colour counts beside luma. */
const COLOUR = 0.25;

/** Squared gradient of each pixel, levels² a pixel²; the border is repeated. */
export function gradientEnergy({ width, height, values }: LumaPicture): Float32Array<ArrayBuffer> {
  const out = new Float32Array(values.length);
  for (let y = 0, p = 0; y < height; y++) {
    const above = y > 0 ? width : 0;
    const below = y < height - 1 ? width : 0;
    for (let x = 0; x < width; x++, p++) {
      const across = values[x < width - 1 ? p + 1 : p] - values[x > 0 ? p - 1 : p];
      const down = values[p + below] - values[p - above];
      out[p] = 0.25 * (across * across + down * down);
    }
  }
  return out;
}

/** Squared gradients of the difference of two looks, luma and colour, by blocks. @param side of a block, px of luma; even. */
export function energyBetween(a: Look, b: Look, side: number): Blocks {
  const apart = mapLook(a, (plane) => a[plane].values.map((value, p) => value - b[plane].values[p]));
  const { columns, rows, values } = blockMeans(gradientEnergy(apart.luma), apart.luma, side);
  for (const colour of [apart.blue, apart.red]) {
    const energy = blockMeans(gradientEnergy(colour), colour, side / 2).values;
    for (let b = 0; b < values.length; b++) values[b] += COLOUR * energy[b];
  }
  return { columns, rows, values };
}
