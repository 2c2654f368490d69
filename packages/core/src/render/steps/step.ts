import type { PixelFrame, Size } from '../../pixels/index.js';
import type { SourceFile } from '../../recipe/index.js';
import { type Mask, maskInputs } from '../../still/index.js';
import type { Composition } from '../compose.js';
import type { DressAssets } from '../dress-assets.js';
import type { HeldStill, RenderPlan } from '../plan-render.js';
import type { LightFigures, SteadyFigures } from './figures.js';
import type { MadePictures } from './made-pictures.js';

/** What steps measured while they worked. */
export interface StepFigures {
  readonly steady: SteadyFigures | null;
  readonly light: LightFigures | null;
}

/** A step made ready: what it does to one frame of the take. */
export interface FrameOperation {
  /** @param frame its number in the take; frames come in rising order. */
  apply(picture: PixelFrame, frame: number): PixelFrame;
  /** What was measured so far. */
  figures?(): Partial<StepFigures>;
}

/** A step made ready: from the pictures of one place of the reel to the next ones, the lowest first. */
export type ReelOperation = (pictures: readonly PixelFrame[], place: number) => readonly PixelFrame[];

interface NamedStep {
  readonly name: string;
  /**
   * All that the step's result depends on, beside the pictures it is given, as a value for JSON; null where
   * the plan does not ask for it. Keys of caches are chained from these.
   * @param frames of the take that will be read.
   */
  dependsOn(plan: RenderPlan, frames: readonly number[]): unknown;
}

/** All that the masks of a held picture depend on, layer by layer. */
export function masksOf({ layers }: HeldStill): unknown {
  return layers.map(({ ripples }) => ripples.map(maskInputs));
}

/** Frames of the take that come from one file and lie alike on the canvas. */
export interface DecodedContext {
  readonly plan: RenderPlan;
  readonly file: SourceFile;
  readonly composition: Composition;
  /** The size of the pictures as they come from the decoder. */
  readonly size: Size;
  /** What moves by any layer, in the take's shape; null where nothing is held. */
  readonly moving: Mask | null;
  /** What was painted of veils, by its hash. */
  readonly veilMasks: ReadonlyMap<string, Mask>;
  /** The plate's frame as it was decoded, through the steps before this one. @throws RangeError where it cannot be read. */
  readPlate(frame: number): Promise<PixelFrame>;
  /** The same of several frames, rising; those that cannot be read are left out. */
  readSome(frames: readonly number[]): Promise<PixelFrame[]>;
}

/** Acts on each frame of the take as it comes from the decoder. */
export interface DecodedStep extends NamedStep {
  /** Null where frames stay as they are. */
  prepare(context: DecodedContext): Promise<FrameOperation | null>;
}

/** What is held, at the size of the finished frames. */
export interface ComposedPlate {
  readonly picture: PixelFrame;
  /** What moves over it: one mask a layer, the lowest first. */
  readonly masks: readonly Mask[];
}

/** Acts on each frame of the take at the size of the finished frames; the plate's own frame is left out. */
export interface ComposedStep extends NamedStep {
  /** @param anchor the frame that the camera is brought to where nothing is held; null where it is left. */
  prepare(plan: RenderPlan, plate: ComposedPlate | null, anchor: PixelFrame | null): FrameOperation | null;
}

export interface ReelContext {
  readonly plan: RenderPlan;
  readonly plate: ComposedPlate | null;
  readonly assets: DressAssets;
  /** A frame of the take, composed. */
  take(frame: number): PixelFrame;
  readonly made: MadePictures;
}

/** Acts on each frame of the reel. */
export interface ReelStep extends NamedStep {
  prepare(context: ReelContext): ReelOperation | null;
}
