import type { OwnRound } from '../loop/index.js';
import type { Size } from '../pixels/index.js';
import { createMask, cutMask, joinMasks, type Mask, resizeMask } from './mask.js';
import { type Outline, rasterOutline } from './outline.js';
import { type Refinement, refineMask } from './refine.js';

/** One moving region. */
export interface Ripple extends Refinement {
  readonly id: string;
  readonly name: string;
  /** The painted mask, by the SHA-256 of its PNG; null where nothing was painted. */
  readonly mask: string | null;
  /** Laid over the paint in their order. */
  readonly outlines: readonly Outline[];
  /** Hidden ripples hold still. */
  readonly shown: boolean;
  /** Null: it loops with the reel. */
  readonly loop: OwnRound | null;
}

/** The picture that the frozen parts show. */
export type Plate =
  | { readonly kind: 'frame'; readonly frame: number }
  /** A retouched picture in the shape of the take, and the frame it was made from. */
  | { readonly kind: 'picture'; readonly frame: number; readonly hash: string };

export interface StillSettings {
  /** Null: nothing is held, the whole picture moves. */
  readonly plate: Plate | null;
  readonly ripples: readonly Ripple[];
  /** Every frame is aligned to the plate. */
  readonly steady: boolean;
  /** Brightness is matched along the ripples' edges. */
  readonly evenLight: boolean;
}

export const NOTHING_HELD: StillSettings = { plate: null, ripples: [], steady: false, evenLight: false };

/** Pictures that these settings name, by their hashes. */
export function stillHashes({ plate, ripples }: StillSettings): string[] {
  return [
    ...(plate?.kind === 'picture' ? [plate.hash] : []),
    ...ripples.flatMap(({ mask }) => (mask ? [mask] : [])),
  ];
}

/** The inputs of a ripple's mask: neither its name nor its loop is among them. */
export function maskInputs({ mask, outlines, grow, feather, invert }: Ripple) {
  return { mask, outlines, grow, feather, invert };
}

/**
 * The mask of one ripple: paint and outlines, then inverted, grown and feathered.
 * @param size of the mask, the take's shape; grow and feather count in its pixels.
 */
export function rippleMask(ripple: Ripple, painted: Mask | null, size: Size): Mask {
  let mask = painted ? resizeMask(painted, size) : createMask(size.width, size.height);
  for (const outline of ripple.outlines) {
    const inside = rasterOutline(outline, size.width, size.height);
    mask = outline.adds ? joinMasks(mask, inside) : cutMask(mask, inside);
  }
  return refineMask(mask, ripple);
}

/** The mask of several ripples together; hidden ones hold still. */
export function movingMask(ripples: readonly Ripple[], painted: (hash: string) => Mask, size: Size): Mask {
  return ripples
    .filter((ripple) => ripple.shown)
    .reduce(
      (sum, ripple) => joinMasks(sum, rippleMask(ripple, ripple.mask ? painted(ripple.mask) : null, size)),
      createMask(size.width, size.height),
    );
}
