import { aim, type Dither } from './dither.js';

/** Thresholds laid over the picture like tiles: `side × side` values, −0.5 … 0.5, row-major. */
export interface ThresholdTile {
  readonly side: number;
  readonly values: Float32Array;
}

/**
 * Ordered dither: each pixel is moved by its tile's threshold before the nearest colour is taken.
 * @param makeTile is called when the dither is first used.
 */
export function orderedDither(makeTile: () => ThresholdTile): Dither {
  let made: ThresholdTile | null = null;
  return (frame, durations, plan, { nearestAt, strength, spacing }) => {
    made ??= makeTile();
    const tile = made;
    const { width, height, rgba } = frame;
    const reach = spacing * strength;
    for (let y = 0; y < height; y++) {
      const tileRow = (y % tile.side) * tile.side;
      for (let x = 0, p = y * width; x < width; x++, p++) {
        if (durations[p] === 0) continue;
        const shift = tile.values[tileRow + (x % tile.side)] * reach;
        const [r, g, b] = [rgba[p * 4] + shift, rgba[p * 4 + 1] + shift, rgba[p * 4 + 2] + shift];
        plan[p] = aim(rgba, p, r, g, b, nearestAt(p));
      }
    }
  };
}
