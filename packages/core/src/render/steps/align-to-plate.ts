import {
  type AlignTemplate,
  alignSize,
  createAlignTemplate,
  IDENTITY,
  lumaOf,
  type Similarity,
  warpFrame,
  warpLuma,
} from '../../motion/index.js';
import type { PixelFrame, Size } from '../../pixels/index.js';
import { createMask, growMask, type Mask, resizeMask } from '../../still/index.js';
import type { SteadyFigures } from './figures.js';

/** Every n-th frame is measured again when it is aligned; of whole frames fewer, since all of a take are. */
const MEASURED_EVERY = 3;
const WHOLE_MEASURED_EVERY = 12;
/** Room around what moves, px of a picture 1280 px wide. */
const RIM = 24;
const USUAL_WIDTH = 1280;

/** Aligns decoded frames to the plate, one after the other, each starting from where the one before lay. */
export interface PlateAlignment {
  align(frame: PixelFrame): PixelFrame;
  figures(): SteadyFigures;
}

/** What is not looked at: what moves over a held plate, in the take's shape; or places of the small picture. */
export type LeftOut = { readonly moving: Mask } | { readonly ignored: Uint8Array };

/**
 * @param plate as it was decoded.
 * @param leftOut where something is held, frames are aligned only where they are seen; else as a whole.
 * @param source the size that distances are told in.
 */
export function alignToPlate(plate: PixelFrame, leftOut: LeftOut, source: Size): PlateAlignment {
  const size = alignSize(plate);
  const isWhole = 'ignored' in leftOut;
  const ignored = isWhole ? leftOut.ignored : resizeMask(leftOut.moving, size).values;
  const template: AlignTemplate = createAlignTemplate(lumaOf(plate.rgba, plate, size), ignored);
  const wanted = isWhole
    ? new Uint8Array(plate.width * plate.height).fill(255)
    : seenPlaces(leftOut.moving, plate, size);
  let start: Similarity = IDENTITY;
  let [frames, measured, before, after, untrusted] = [0, 0, 0, 0, 0];
  const squaredPx = ({ x, y }: Similarity) => (x * x + y * y) * source.width ** 2;
  return {
    align(frame) {
      const luma = lumaOf(frame.rgba, frame, size);
      const registration = template.register(luma, start);
      if (registration.kind === 'none') untrusted++;
      else start = registration.similarity;
      // A whole frame that is not found lies as the one before it; a jump would be seen all over.
      const place = isWhole && registration.kind === 'none' ? start : registration.similarity;
      before += squaredPx(place);
      if (frames++ % (isWhole ? WHOLE_MEASURED_EVERY : MEASURED_EVERY) === 0) {
        after += squaredPx(template.register(warpLuma(luma, place)).measured);
        measured++;
      }
      return warpFrame(frame, place, plate, wanted);
    },
    figures: () => ({
      beforePx: Math.sqrt(before / Math.max(1, frames)),
      afterPx: Math.sqrt(after / Math.max(1, measured)),
      frames,
      untrusted,
    }),
  };
}

/**
 * Where an aligned frame is looked at. What is held comes from the plate; beside what moves, a rim is needed for
 * the light and for the resampling.
 */
function seenPlaces(moving: Mask, plate: Size, size: Size): Uint8Array {
  const rim = growMask(resizeMask(anyMove(moving), size), (RIM * size.width) / USUAL_WIDTH);
  return resizeMask(rim, plate).values;
}

/** All places that move at all. */
function anyMove({ width, height, values }: Mask): Mask {
  return createMask(
    width,
    height,
    values.map((value) => (value > 0 ? 255 : 0)),
  );
}
