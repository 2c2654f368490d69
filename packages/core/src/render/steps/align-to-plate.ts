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

/** Every n-th frame is measured again when it is aligned. */
const MEASURED_EVERY = 3;
/** Room around what moves, px of a picture 1280 px wide. */
const RIM = 24;
const USUAL_WIDTH = 1280;

/** Aligns decoded frames to the plate, one after the other, each starting from where the one before lay. */
export interface PlateAlignment {
  align(frame: PixelFrame): PixelFrame;
  figures(): SteadyFigures;
}

/**
 * @param plate as it was decoded.
 * @param moving what moves is not looked at; the take's shape. Null: everything is looked at and aligned.
 * @param source the size that distances are told in.
 */
export function alignToPlate(plate: PixelFrame, moving: Mask | null, source: Size): PlateAlignment {
  const size = alignSize(plate);
  const ignored = moving ? resizeMask(moving, size).values : undefined;
  const template: AlignTemplate = createAlignTemplate(lumaOf(plate.rgba, plate, size), ignored);
  // What is held comes from the plate; beside what moves, a rim is looked at for the light and for the
  // resampling.
  const wanted = moving
    ? resizeMask(growMask(resizeMask(anyMove(moving), size), (RIM * size.width) / USUAL_WIDTH), plate).values
    : new Uint8Array(plate.width * plate.height).fill(255);
  let start: Similarity = IDENTITY;
  let [frames, measured, before, after, untrusted] = [0, 0, 0, 0, 0];
  const squaredPx = ({ x, y }: Similarity) => (x * x + y * y) * source.width ** 2;
  return {
    align(frame) {
      const luma = lumaOf(frame.rgba, frame, size);
      const registration = template.register(luma, start);
      if (registration.kind === 'none') untrusted++;
      else start = registration.similarity;
      const place = registration.similarity;
      before += squaredPx(place);
      if (frames++ % MEASURED_EVERY === 0) {
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

/** All places that move at all. */
function anyMove({ width, height, values }: Mask): Mask {
  return createMask(
    width,
    height,
    values.map((value) => (value > 0 ? 255 : 0)),
  );
}
