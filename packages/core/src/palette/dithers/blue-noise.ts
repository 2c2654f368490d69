import { BLUE_NOISE_RANKS, BLUE_NOISE_SIDE } from './blue-noise-ranks.js';
import { orderedDither, type ThresholdTile } from './ordered.js';

/** The kept tile's thresholds. */
export function blueNoiseTile(): ThresholdTile {
  const ranks = decodeRanks(BLUE_NOISE_RANKS);
  return {
    side: BLUE_NOISE_SIDE,
    values: Float32Array.from(ranks, (rank) => (rank + 0.5) / ranks.length - 0.5),
  };
}

const DIGITS = '0123456789abcdefghijklmnopqrstuvwxyzABCDEFGHIJKLMNOPQRSTUVWXYZ-_';

/** Two digits of base 64 a rank, the higher first. */
export function decodeRanks(text: string): Uint16Array {
  return Uint16Array.from(
    { length: text.length / 2 },
    (_, i) => DIGITS.indexOf(text[i * 2]) * 64 + DIGITS.indexOf(text[i * 2 + 1]),
  );
}

export function encodeRanks(ranks: Uint16Array): string {
  return Array.from(ranks, (rank) => DIGITS[rank >> 6] + DIGITS[rank & 63]).join('');
}

export const blueNoise = orderedDither(blueNoiseTile);
