import type { Size } from '../pixels/index.js';
import { fitCamera, residualAt, residualNoise } from './camera-fit.js';
import { SIGNATURE_SIZE, signatureLuma } from './signature.js';

/** What happened from one frame to the next. */
export interface Activity {
  /** Mean change of luma in levels that neither the camera nor the light explains, above what noise does. */
  readonly moves: number;
  /** How far the camera moved the picture, in pixels of the frame. */
  readonly shiftX: number;
  readonly shiftY: number;
  /** How much lighter all became, in levels of luma. */
  readonly light: number;
}

const STILL: Activity = { moves: 0, shiftX: 0, shiftY: 0, light: 0 };

/**
 * Splits the change between two signatures into camera, light and what really moves. Camera and light are
 * fitted together, robustly: luma′ = luma − gradient · shift + light, iteratively reweighted (Tukey), so that
 * what moves does not pull at them while it covers less than about half of the picture.
 * @param frame the size of the frames the signatures stand for.
 */
export function measureActivity(before: Uint8Array, after: Uint8Array, frame: Size): Activity {
  const { width, height } = SIGNATURE_SIZE;
  const from = signatureLuma(before);
  const to = signatureLuma(after);
  const fit = fitCamera(from, to);
  if (!fit) return STILL;
  const [dx, dy, light] = fit;
  let sum = 0;
  const noise = residualNoise(from, to, fit);
  for (let y = 1; y < height - 1; y++) {
    for (let p = y * width + 1; p < (y + 1) * width - 1; p++) {
      const residual = Math.abs(residualAt(from, to, p, dx, dy, light));
      if (residual > 3 * noise) sum += residual;
    }
  }
  return {
    moves: sum / ((width - 2) * (height - 2)),
    shiftX: (dx * frame.width) / width,
    shiftY: (dy * frame.height) / height,
    light,
  };
}
