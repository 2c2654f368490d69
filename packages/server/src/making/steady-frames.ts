import {
  type AlignTemplate,
  alignSize,
  createAlignTemplate,
  IDENTITY,
  lumaOf,
  type Registration,
  type Similarity,
  warpFrame,
  warpLuma,
} from '@muted-pond/core/motion';
import type { PixelFrame, Size } from '@muted-pond/core/pixels';
import { createMask, growMask, type Mask, resizeMask } from '@muted-pond/core/still';

/** Room around what moves, px of a picture 1280 px wide. */
const RIM = 24;
const USUAL_WIDTH = 1280;

/** How far frames lay from the plate, and how far they lie from it now; root mean square, px of the source. */
export interface SteadyFigures {
  readonly beforePx: number;
  readonly afterPx: number;
  /** Frames whose place could not be found and that were left as they are. */
  readonly untrusted: number;
}

/** Aligns decoded frames to the plate, one after the other, each starting from where the one before lay. */
export interface Steadier {
  steady(frame: PixelFrame): PixelFrame;
  figures(): SteadyFigures;
}

/**
 * @param plate as it was decoded.
 * @param moving what moves is not looked at; the take's shape.
 * @param source the size that distances are told in.
 */
export function createSteadier(plate: PixelFrame, moving: Mask, source: Size): Steadier {
  const size = alignSize(plate);
  const ignored = resizeMask(moving, size).values;
  const template: AlignTemplate = createAlignTemplate(lumaOf(plate.rgba, plate, size), ignored);
  // What is held comes from the plate; beside what moves, a rim is looked at for the light and for the resampling.
  const rim = growMask(resizeMask(anyMove(moving), size), (RIM * size.width) / USUAL_WIDTH);
  const wanted = resizeMask(rim, plate).values;
  let start: Similarity = IDENTITY;
  let [frames, before, after, untrusted] = [0, 0, 0, 0];
  const squaredPx = ({ similarity: { x, y } }: Registration) => (x * x + y * y) * source.width ** 2;
  return {
    steady(frame) {
      const luma = lumaOf(frame.rgba, frame, size);
      const registration = template.register(luma, start);
      if (registration.kind === 'none') untrusted++;
      else start = registration.similarity;
      frames++;
      before += squaredPx(registration);
      // Measured again on the aligned picture.
      after += squaredPx(template.register(warpLuma(luma, registration.similarity)));
      return warpFrame(frame, registration.similarity, plate, wanted);
    },
    figures: () => ({
      beforePx: Math.sqrt(before / Math.max(1, frames)),
      afterPx: Math.sqrt(after / Math.max(1, frames)),
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
