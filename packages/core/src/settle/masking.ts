import type { PixelFrame, Size } from '../pixels/index.js';
import { startFastMasking } from './fast-masking.js';
import { type MaskingTools, startPlainMasking } from './plain-masking.js';

/** Frames looked at, spread over the reel. */
const MOMENTS = 6;
/** Luma variance at which texture begins to hide change, squared levels. */
const KNEE = 120;
/** The largest factor. */
const MOST = 6;

/**
 * What a squared difference of colour may count beside one of light, both as toOpponent scales them: the
 * classes that pixels fall into.
 */
export const CHROMA_SHARES = [0.34, 0.544, 0.87, 1.393, 2.228, 3.565] as const;
/** The first class and the step from one to the next, as logarithms. */
const LEAST_SHARE = Math.log(CHROMA_SHARES[0]);
const CHROMA_STEP = Math.log(1.6);
/**
 * How far the share of colour follows what light and colour hide. By all of it (1) SSIM alone is served best;
 * motion error counts light only, wherever it is.
 */
const CHROMA_EXPONENT = 0.5;

/** Shares from which on the next class is the nearest one. */
const CLASS_BOUNDS = CHROMA_SHARES.slice(1).map((_, below) =>
  Math.exp(LEAST_SHARE + (below + 0.5) * CHROMA_STEP),
);

/** The class of a share. */
export function chromaClassOf(share: number): number {
  let place = 0;
  while (place < CLASS_BOUNDS.length && share >= CLASS_BOUNDS[place]) place++;
  return place;
}

/** What the picture hides at each pixel, row-major. */
export interface Masking {
  /** How much change texture hides: 1 on flat ground, more where the picture is busy. */
  readonly masking: Float32Array;
  /**
   * What differences of colour count beside those of light, as a place in CHROMA_SHARES: least on flat ground,
   * more where light is busy and colour is not, as around the letters of a page.
   */
  readonly chroma: Uint8Array;
}

/** What is hidden, measured frame by frame as they come. */
export interface MaskingMeasure {
  /** The next frame of the reel. */
  add(frame: PixelFrame): void;
  /** @throws RangeError unless as many frames were added as had been told. */
  result(): Masking;
}

/**
 * Measures what is hidden. An error counts against the local variance of its plane (Wang et al. 2004, equation
 * 6: the structure term divides by it), so the same visible error allows a larger difference where there is
 * more; and a plane of colour counts a sixth of that of light.
 *
 * Works in squares of 8×8 px blended into each other, in a few frames spread over the reel.
 * @param count how many frames will be added.
 * @param start by what the pixels are gone through: a kernel, or plain TypeScript where that cannot run.
 */
export function startMasking(
  count: number,
  start: (size: Size) => MaskingTools = (size) => startFastMasking(size) ?? startPlainMasking(size),
): MaskingMeasure {
  const moments = Math.min(MOMENTS, count);
  let tools: MaskingTools | null = null;
  let added = 0;
  let measured = 0;
  return {
    add(frame) {
      tools ??= start(frame);
      if (added++ !== Math.floor(((measured + 0.5) * count) / moments)) return;
      tools.measure(frame);
      measured++;
    },
    result() {
      if (!tools || added !== count) throw new RangeError(`${added} of ${count} frames were added.`);
      return maskingOf(tools, moments);
    },
  };
}

function maskingOf(tools: MaskingTools, moments: number): Masking {
  const { lights, colours } = tools;
  const shares = new Float32Array(lights.length);
  for (let block = 0; block < lights.length; block++) {
    lights[block] = Math.min(MOST, Math.sqrt(1 + lights[block] / moments / KNEE));
    const hidden = lights[block] ** 2 / (1 + colours[block] / moments / KNEE);
    shares[block] = LEAST_SHARE + CHROMA_EXPONENT * Math.log(hidden);
  }
  colours.set(shares);
  return {
    masking: tools.spreadLights(),
    chroma: tools.classify(LEAST_SHARE, CHROMA_STEP, CHROMA_SHARES.length - 1),
  };
}

/** The same for frames that are all there. */
export function measureMasking(frames: readonly PixelFrame[], start?: (size: Size) => MaskingTools): Masking {
  const measure = startMasking(frames.length, start);
  for (const frame of frames) measure.add(frame);
  return measure.result();
}
