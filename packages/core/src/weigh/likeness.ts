import { assertOneSize, type PixelFrame } from '../pixels/index.js';
import { similarityOfPlanes } from './frame-similarity.js';
import { type LumaChroma, toLumaChroma } from './luma.js';

/** How a finished file compares with the full-colour reel. */
export interface Likeness {
  /** Mean SSIM over the frames, luma and the two colour differences weighted 6:1:1. 1 is equal. */
  readonly ssim: number;
  /** Motion error: mean |Δout − Δref| of luma between neighbouring frames, levels. */
  readonly motionError: number;
  /** Shimmer: mean |Δout| of luma where the reference stays within a level, levels. */
  readonly shimmer: number;
  /** PSNR of the luma error after a 5×5 mean, dB: banding and slow shifts. Infinite for equal reels. */
  readonly smoothPsnr: number;
}

/** A change of reference luma up to this many levels counts as none. */
const STILL_LEVELS = 1;

/**
 * Takes a reference and an output frame at a time, in order, and gives the figures at the end; so
 * neither reel has to be held whole.
 */
export interface LikenessMeter {
  add(reference: PixelFrame, output: PixelFrame): void;
  result(): Likeness;
}

export function createLikenessMeter(): LikenessMeter {
  let frames = 0;
  let similarity = 0;
  let motion = 0;
  let steps = 0;
  let shimmer = 0;
  let stillPixels = 0;
  let smoothError = 0;
  let pixels = 0;
  let before: { reference: LumaChroma; output: LumaChroma } | null = null;

  return {
    add(reference, output) {
      assertOneSize([reference, output]);
      const { width, height } = reference;
      const ref = toLumaChroma(reference);
      const out = toLumaChroma(output);
      similarity += similarityOfPlanes(ref, out, width, height);
      smoothError += smoothSquaredError(ref.luma, out.luma, width, height);
      pixels += width * height;
      frames++;
      if (before) {
        for (let p = 0; p < ref.luma.length; p++) {
          const refStep = ref.luma[p] - before.reference.luma[p];
          const outStep = out.luma[p] - before.output.luma[p];
          motion += Math.abs(outStep - refStep);
          if (Math.abs(refStep) <= STILL_LEVELS) {
            shimmer += Math.abs(outStep);
            stillPixels++;
          }
        }
        steps += ref.luma.length;
      }
      before = { reference: ref, output: out };
    },
    result() {
      if (frames === 0) throw new RangeError('No frames were compared.');
      return {
        ssim: similarity / frames,
        motionError: steps > 0 ? motion / steps : 0,
        shimmer: stillPixels > 0 ? shimmer / stillPixels : 0,
        smoothPsnr: 10 * Math.log10((255 * 255) / (smoothError / pixels)),
      };
    },
  };
}

/** Compares two reels of one length and size. */
export function measureLikeness(reference: readonly PixelFrame[], output: Iterable<PixelFrame>): Likeness {
  const meter = createLikenessMeter();
  let f = 0;
  for (const frame of output) meter.add(reference[f++], frame);
  if (f !== reference.length) {
    throw new RangeError(`The reel has ${reference.length} frames; the file shows ${f}.`);
  }
  return meter.result();
}

/** Sum over all pixels of the squared 5×5 mean of the error; the window is cut at the edges. */
function smoothSquaredError(a: Float32Array, b: Float32Array, width: number, height: number): number {
  const across = new Float32Array(a.length);
  const line = new Float32Array(Math.max(width, height) + 1);
  for (let y = 0; y < height; y++) {
    const row = y * width;
    for (let x = 0; x < width; x++) line[x + 1] = line[x] + b[row + x] - a[row + x];
    for (let x = 0; x < width; x++) {
      const from = Math.max(0, x - 2);
      const to = Math.min(width, x + 3);
      across[row + x] = (line[to] - line[from]) / (to - from);
    }
  }
  let sum = 0;
  for (let x = 0; x < width; x++) {
    for (let y = 0; y < height; y++) line[y + 1] = line[y] + across[y * width + x];
    for (let y = 0; y < height; y++) {
      const from = Math.max(0, y - 2);
      const to = Math.min(height, y + 3);
      const mean = (line[to] - line[from]) / (to - from);
      sum += mean * mean;
    }
  }
  return sum;
}
