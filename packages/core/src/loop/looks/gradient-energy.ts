import { gradientsOf, type LumaPicture } from '../../motion/index.js';
import { type Blocks, blockMeans } from './blocks.js';
import { type Look, mapLook } from './look.js';

/** How much colour counts beside luma. */
const COLOUR = 0.25;

/** Squared gradient of each pixel, levels² a pixel². */
export function gradientEnergy(picture: LumaPicture): Float32Array<ArrayBuffer> {
  const { across, down } = gradientsOf(picture);
  const out = new Float32Array(across.length);
  for (let p = 0; p < out.length; p++) out[p] = across[p] * across[p] + down[p] * down[p];
  return out;
}

/** Squared gradients of the difference of two looks, luma and colour, by blocks. @param side of a block, px of luma; even. */
export function energyBetween(a: Look, b: Look, side: number): Blocks {
  const apart = mapLook(a, (plane) => difference(a[plane].values, b[plane].values));
  const { columns, rows, values } = blockMeans(gradientEnergy(apart.luma), apart.luma, side);
  for (const colour of [apart.blue, apart.red]) {
    const energy = blockMeans(gradientEnergy(colour), colour, side / 2).values;
    for (let b = 0; b < values.length; b++) values[b] += COLOUR * energy[b];
  }
  return { columns, rows, values };
}

function difference(a: Float32Array, b: Float32Array): Float32Array {
  const out = new Float32Array(a.length);
  for (let p = 0; p < out.length; p++) out[p] = a[p] - b[p];
  return out;
}
