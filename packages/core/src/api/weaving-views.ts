import type { Woven } from '../loop/index.js';
import type { WovenPart } from '../render/index.js';
import type { Span } from '../timing/index.js';
import type { LengthEnergy } from '../weave/index.js';
import type { JobView } from './job-view.js';

/** The weaves of a piece as they are asked for now: being made, or made. */
export interface WeavingView extends JobView {
  /** By what they are called in the reels. */
  readonly parts: Readonly<Record<string, WovenPart>> | null;
}

/** How well a piece can be woven. */
export interface WeaveAdvice {
  /** Where frames may come from. */
  readonly span: Span;
  readonly join: Woven;
  /** Squared usual steps, a living cell: the less, the better. */
  readonly energy: number;
  /** The part of the picture that moves, 0–1. */
  readonly moving: number;
  /** 0–100, measured on what was woven. */
  readonly score: number;
  /** Seconds over which the joint is spread. */
  readonly spread: number;
  /** Energies of all common lengths that were looked at. */
  readonly lengths: readonly LengthEnergy[];
}

/** Whether a piece can be woven: being looked at, or known. */
export interface WeaveAdviceView extends JobView {
  /** Null while it is not known, and where the footage is too short. */
  readonly advice: WeaveAdvice | null;
}
