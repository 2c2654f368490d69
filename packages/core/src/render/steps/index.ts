import { colour } from './colour.js';
import { edge } from './edge.js';
import { evenLight } from './even-light.js';
import { hold } from './hold.js';
import { join } from './join.js';
import { overlay } from './overlay.js';
import { place } from './place.js';
import { steady } from './steady.js';
import type { ComposedStep, DecodedStep, ReelStep } from './step.js';
import { veil } from './veil.js';

/**
 * The one list of steps that every frame goes through, in this order, on the server, on the command line and
 * in the browser. A new step is a file beside these and a place in the list.
 */
export const STEPS: {
  readonly decoded: readonly DecodedStep[];
  readonly composed: readonly ComposedStep[];
  readonly reel: readonly ReelStep[];
  readonly dress: readonly ReelStep[];
} = {
  /** On frames of the take as they come from the decoder. */
  decoded: [veil, steady, place],
  /** On frames of the take at the size of the finished ones. */
  composed: [evenLight],
  /** On frames of the reel. */
  reel: [join, hold],
  /** On what those frames show. */
  dress: [colour, overlay, edge],
};

export type { LightFigures, SteadyFigures } from './figures.js';
export { join, mixReelFrame, movingReels, sourcesOf } from './join.js';
export { createMadePictures, type MadePictures } from './made-pictures.js';
export { type ComposedPlate, type FrameOperation, masksOf, type StepFigures } from './step.js';
export { veilPicture } from './veil.js';
