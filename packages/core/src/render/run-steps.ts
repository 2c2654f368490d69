import { LRUCache } from 'lru-cache';
import { type Derivation, identityOf } from '../identity/index.js';
import type { PixelFrame } from '../pixels/index.js';
import type { ReelFrame } from '../timing/index.js';
import { type DrawnOverlay, type DressAssets, openDressAssets } from './dress-assets.js';
import type { FrameSource } from './frame-source.js';
import { ENGINE_VERSION, type RenderPlan } from './plan-render.js';
import {
  type ComposedPlate,
  createMadePictures,
  join,
  type MadePictures,
  masksOf,
  mixReelFrame,
  movingReels,
  STEPS,
  type StepFigures,
  sourcesOf,
} from './steps/index.js';
import { openTakeFrames, type TakeFrames } from './take-frames.js';

const COMPOSED: Derivation = { name: 'composed reel', version: ENGINE_VERSION };
const TAKE_FRAMES: Derivation = { name: 'frames of a take', version: ENGINE_VERSION };
const PICTURE: Derivation = { name: 'undressed picture', version: ENGINE_VERSION };

/** Undressed frames that are kept: those under the hand while a dress changes. */
const MOST_BARE = 2;
type BareFrames = LRUCache<string, PixelFrame>;

/** The steps of a plan, made ready over a source of frames. */
export interface StepsRun {
  /**
   * Reads these frames of the take and brings them to where they can be shown. @param onProgress 0–1.
   * @param onRead is told each as soon as it can be shown, where that is before all others have been read.
   */
  read: TakeFrames['read'];
  /** A frame of the reel. All that it shows must have been read. @param isBare without its dress. */
  show(place: number, isBare?: boolean): PixelFrame;
  /** What lies on each other at a place of the reel, before it is laid together. */
  layers(place: number): ShownLayers;
  /** What is held, and through what the layers are seen; null where nothing is, or no frame was read. */
  plate(): ComposedPlate | null;
  /** What was measured so far. */
  figures(): StepFigures;
  /** What is laid over the frames, whenever it is seen; the lowest first. */
  overlays(): readonly DrawnOverlay[];
  /** Lets go of frames that were read. */
  forget(frames: Iterable<number>): void;
  /**
   * Another plan, which takes over what it shares with this one; this one is not used any more.
   * @param from where it gets what is missing; where this one did by default.
   */
  replan(plan: RenderPlan, from?: FrameSource): Promise<StepsRun>;
}

/** The pictures of one place of the reel, before they are laid over the plate. */
export interface ShownLayers {
  /** The whole picture as the reel shows it. */
  readonly whole: PixelFrame;
  /** What moves, the lowest first; the whole picture alone where nothing is held. */
  readonly moving: readonly PixelFrame[];
}

/** The frames of the take that a plan shows, its plate among them; ascending. */
export function framesOf(plan: RenderPlan): number[] {
  const shown = sourcesOf(movingReels(plan).flat(), plan.weaves, plan.still !== null);
  const plate = plan.still?.plate.frame;
  if (plate === undefined || shown.includes(plate)) return shown;
  return [...shown, plate].sort((a, b) => a - b);
}

/**
 * The frames of the take that a place of the reel shows.
 * @param layers whether what lies on each other will be asked for as well.
 */
export function framesAt(plan: RenderPlan, place: number, layers = false): number[] {
  const reels = layers ? [plan.reel, ...movingReels(plan)] : movingReels(plan);
  const picks = reels.flatMap((reel) => reel.slice(place, place + 1));
  return sourcesOf(picks, plan.weaves, plan.still !== null);
}

/** All that the composed frames depend on: which frame of which file each is, and what each step says. */
export function stepsInputs(plan: RenderPlan) {
  const frames = framesOf(plan);
  const steps = [...STEPS.decoded, ...STEPS.composed, ...STEPS.reel, ...STEPS.dress];
  return {
    shows: showsOf(plan, frames),
    steps: steps.map((step) => [step.name, step.dependsOn(plan, frames)]),
  };
}

/** The frames of a plan's reel. */
export function composedKey(plan: RenderPlan): string {
  return identityOf(COMPOSED, stepsInputs(plan));
}

export async function startSteps(plan: RenderPlan, source: FrameSource): Promise<StepsRun> {
  return runOver(plan, source, openTakeFrames(plan, source));
}

async function runOver(
  plan: RenderPlan,
  source: FrameSource,
  opening: Promise<TakeFrames> | TakeFrames,
  bare: BareFrames = new LRUCache({ max: MOST_BARE }),
): Promise<StepsRun> {
  const [take, assets] = await Promise.all([opening, openDressAssets(plan, source)]);
  let reelSteps: ReturnType<typeof prepareReel> | null = null;
  const made = createMadePictures(plan.size, take.get);
  return {
    read: take.read,
    show(place, isBare = false) {
      reelSteps ??= prepareReel(plan, take, assets, made, bare);
      return reelSteps(place, isBare);
    },
    layers(place) {
      const joined = join.prepare({ plan, plate: take.plate(), take: take.get, made, assets });
      return {
        whole: mixReelFrame(plan.reel[place], {
          ...{ weaves: plan.weaves, take: take.get, made },
          plate: take.plate()?.picture ?? null,
        }),
        moving: joined?.([], place) ?? [],
      };
    },
    plate: take.plate,
    figures: take.figures,
    overlays: () => assets.overlays,
    forget(frames) {
      take.forget(frames);
      // What was mixed of them goes as well.
      reelSteps = null;
      bare.clear();
    },
    replan: (next, from = source) =>
      takeKey(next) === takeKey(plan)
        ? runOver(next, from, take, bare)
        : runOver(next, from, openTakeFrames(next, from)),
  };
}

/** What frames of the take depend on, whichever of them a reel shows. */
function takeKey(plan: RenderPlan): string {
  const { still } = plan;
  const frames = framesOf(plan);
  const inputs = [...STEPS.decoded, ...STEPS.composed].map((step) => step.dependsOn(plan, frames));
  const held = still && [still.plate, masksOf(still)];
  return identityOf(TAKE_FRAMES, { shows: showsOf(plan, frames), steps: inputs, held });
}

/** Which frame of which file each frame of the take is. */
function showsOf({ take }: RenderPlan, frames: readonly number[]): unknown {
  return frames.map((index) => {
    const { file, frame } = take.frame(index);
    return [index, file.hash, frame];
  });
}

/** All that tells one picture of a reel from another over the same take. */
function pictureInputs({ weaves }: RenderPlan, { delayCs, woven, ...shown }: ReelFrame): unknown {
  return [shown, woven === undefined ? null : (weaves[woven]?.id ?? null)];
}

/** @param bare undressed frames by what they show, as other plans over the same take have made them. */
function prepareReel(
  plan: RenderPlan,
  { get, plate }: TakeFrames,
  assets: DressAssets,
  made: MadePictures,
  bare: BareFrames,
): (place: number, isBare: boolean) => PixelFrame {
  const context = { plan, plate: plate(), take: get, made, assets };
  const reel = STEPS.reel.flatMap((step) => step.prepare(context) ?? []);
  const dress = STEPS.dress.flatMap((step) => step.prepare(context) ?? []);
  const through = (steps: typeof reel, pictures: readonly PixelFrame[], place: number) =>
    steps.reduce((now, step) => step(now, place), pictures);
  const reels = movingReels(plan);
  return (place, isBare) => {
    const key = identityOf(PICTURE, { shows: reels.map((one) => pictureInputs(plan, one[place])) });
    const picture = bare.get(key) ?? through(reel, [], place)[0];
    bare.set(key, picture);
    return isBare ? picture : through(dress, [picture], place)[0];
  };
}
