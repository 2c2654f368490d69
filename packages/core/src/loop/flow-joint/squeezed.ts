import { type FlowField, type LumaPicture, smoothstep } from '../../motion/index.js';
import { boxMean } from '../../pixels/index.js';
import { type Blocks, blockMeans, distances, GHOST_BLOCK, gradientEnergy } from '../looks/index.js';
import { percentile } from '../percentile.js';
import { forNear } from './block-maps.js';

/** Below this share of its area a place is squeezed to nothing. */
const SQUEEZED = 0.4;
/** Squared gradient at which there is half something to be seen. */
const HALF_SURE = 16;
/** Shares of a block from which on what is squeezed counts, and counts in full. */
const COUNTS = [0.06, 0.2] as const;
/** Ground that moves less is still, px of a look; how far around a block it is looked at, blocks. */
const STILL = 1;
const GROUND = 3;

/**
 * Where something small on a still ground has no counterpart: the flow squeezes it to nothing. Along the edge of what
 * is large the ground is covered, not squeezed.
 * @param flow from the picture, of its size.
 * @returns 0–1 by ghost block.
 */
export function squeezedBlocks(picture: LumaPicture, flow: FlowField): Blocks {
  const { width, height, u, v } = flow;
  const energy = boxMean(gradientEnergy(picture), picture, 1, 1);
  const gone = new Float32Array(width * height);
  for (let y = 0; y < height - 1; y++) {
    for (let x = 0; x < width - 1; x++) {
      const p = y * width + x;
      const across = (1 + u[p + 1] - u[p]) * (1 + v[p + width] - v[p]);
      const area = across - (u[p + width] - u[p]) * (v[p + 1] - v[p]);
      if (area < SQUEEZED) gone[p] = energy[p] / (energy[p] + HALF_SURE);
    }
  }
  const share = blockMeans(gone, flow, GHOST_BLOCK);
  const speed = blockMeans(distances(flow), flow, GHOST_BLOCK).values;
  const around: number[][] = Array.from(share.values, () => []);
  forNear(share, GROUND, (b, near) => around[b].push(speed[near]));
  const values = share.values.map((part, b) =>
    percentile(around[b], 0.5) < STILL ? smoothstep(...COUNTS, part) : 0,
  );
  return { ...share, values };
}
