import { SIGMA_FROM_MEDIAN, TUKEY } from './robust.js';
import { SIGNATURE_SIZE } from './signature.js';

const ROUNDS = 4;
/** An iteration that changes less than this, in pixels of a signature and in levels, is the last. */
const SETTLED = 2e-3;
/** The least noise that is assumed, levels: rounding to whole levels. */
const LEAST_NOISE = 0.5;
/** Cells looked at for the camera: every second each way. */
const STEP = 2;
/** Of those, the ones whose median tells how far a fit is off. */
const SPREAD_STEP = 3;

/** How the camera moved the picture, in pixels of a signature, and how much lighter all became, in levels. */
export type CameraFit = readonly [dx: number, dy: number, light: number];

type Luma = ArrayLike<number>;

/** What fit does not explain at one pixel, levels. */
export function residualAt(from: Luma, to: Luma, p: number, dx: number, dy: number, light: number): number {
  const { width } = SIGNATURE_SIZE;
  const gradientX = (from[p + 1] - from[p - 1]) / 2;
  const gradientY = (from[p + width] - from[p - width]) / 2;
  return to[p] - from[p] + gradientX * dx + gradientY * dy - light;
}

const samples: number[] = [];
for (let y = 1; y < SIGNATURE_SIZE.height - 1; y += STEP) {
  for (let x = 1; x < SIGNATURE_SIZE.width - 1; x += STEP) samples.push(y * SIGNATURE_SIZE.width + x);
}
const SAMPLES = Int32Array.from(samples);

/**
 * Standard deviation of what the fit does not explain, robustly: what moves does not count while it covers
 * less than half.
 */
export function residualNoise(from: Luma, to: Luma, [dx, dy, light]: CameraFit): number {
  const residuals = new Float32Array(SAMPLES.length);
  for (let i = 0; i < SAMPLES.length; i++)
    residuals[i] = Math.abs(residualAt(from, to, SAMPLES[i], dx, dy, light));
  return Math.max(LEAST_NOISE, residuals.sort()[SAMPLES.length >> 1] * SIGMA_FROM_MEDIAN);
}

/**
 * Camera and light between two signatures' luma: to = from − gradient · shift + light. Weighted normal
 * equations in three unknowns, solved a few times with new weights (Tukey); null for a flat picture.
 */
export function fitCamera(from: Luma, to: Luma): CameraFit | null {
  return createCameraFit(from)(to);
}

/** The same for many pictures against one: what depends on that one alone is prepared once. */
export function createCameraFit(from: Luma): (to: Luma) => CameraFit | null {
  const { width } = SIGNATURE_SIZE;
  const base = Float32Array.from(SAMPLES, (p) => from[p]);
  const across = Float32Array.from(SAMPLES, (p) => (from[p + 1] - from[p - 1]) / 2);
  const down = Float32Array.from(SAMPLES, (p) => (from[p + width] - from[p - width]) / 2);
  const change = new Float32Array(SAMPLES.length);
  const some = new Float32Array(Math.ceil(SAMPLES.length / SPREAD_STEP));

  return (to) => {
    for (let i = 0; i < SAMPLES.length; i++) change[i] = to[SAMPLES[i]] - base[i];
    let fit: CameraFit = [0, 0, 0];
    for (let round = 0; round < ROUNDS; round++) {
      const [dx, dy, light] = fit;
      for (let k = 0, i = 0; k < some.length; k++, i += SPREAD_STEP) {
        some[k] = Math.abs(change[i] + across[i] * dx + down[i] * dy - light);
      }
      const spread = some.sort()[some.length >> 1] * SIGMA_FROM_MEDIAN;
      const solved = solveWeighted(across, down, change, fit, TUKEY * Math.max(LEAST_NOISE, spread));
      if (!solved) return null;
      fit = solved;
      if (
        Math.abs(solved[0] - dx) + Math.abs(solved[1] - dy) < SETTLED &&
        Math.abs(solved[2] - light) < SETTLED
      )
        break;
    }
    return fit;
  };
}

/** One iteration of the fit: residuals beyond `reach` do not count. */
function solveWeighted(
  across: Float32Array,
  down: Float32Array,
  change: Float32Array,
  [dx, dy, light]: CameraFit,
  reach: number,
): CameraFit | null {
  let [xx, xy, yy, x1, y1, n, xt, yt, t] = [0, 0, 0, 0, 0, 0, 0, 0, 0];
  for (let i = 0; i < change.length; i++) {
    const gradientX = across[i];
    const gradientY = down[i];
    const u = (change[i] + gradientX * dx + gradientY * dy - light) / reach;
    if (u >= 1 || u <= -1) continue;
    const weight = (1 - u * u) ** 2;
    xx += weight * gradientX * gradientX;
    xy += weight * gradientX * gradientY;
    yy += weight * gradientY * gradientY;
    x1 -= weight * gradientX;
    y1 -= weight * gradientY;
    n += weight;
    xt -= weight * gradientX * change[i];
    yt -= weight * gradientY * change[i];
    t += weight * change[i];
  }
  if (n === 0) return null;
  // A flat picture says nothing of the camera: a little damping keeps it at rest.
  const damping = 1e-3 * n;
  return solve3([xx + damping, xy, x1, xy, yy + damping, y1, x1, y1, n], [xt, yt, t]);
}

/** Cramer's rule for a symmetric 3 × 3 system; null where it has no single answer. */
function solve3(m: readonly number[], v: readonly number[]): CameraFit | null {
  const det = (a: readonly number[]) =>
    a[0] * (a[4] * a[8] - a[5] * a[7]) -
    a[1] * (a[3] * a[8] - a[5] * a[6]) +
    a[2] * (a[3] * a[7] - a[4] * a[6]);
  const whole = det(m);
  if (Math.abs(whole) < 1e-9) return null;
  const column = (c: number) =>
    det(m.map((value, i) => (i % 3 === c ? v[Math.floor(i / 3)] : value))) / whole;
  return [column(0), column(1), column(2)];
}
