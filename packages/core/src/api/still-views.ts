import type { StepFigures } from '../render/index.js';
import type { JobView } from './job-view.js';

/** What holding still does to the frames of a reel. */
export type HoldingFigures = StepFigures;

/** The holding of a piece as it is asked for now: being measured, or measured. */
export interface HoldingView extends JobView {
  readonly figures: HoldingFigures | null;
}
