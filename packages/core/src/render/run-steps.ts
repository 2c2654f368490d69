import { UserError } from '../errors/index.js';
import type { PixelFrame, Size } from '../pixels/index.js';
import type { SourceFile } from '../recipe/index.js';
import { type Composition, createCompose, decodeSize } from './compose.js';
import { composeMask } from './compose-mask.js';
import type { FrameSource } from './frame-source.js';
import { type MovingMasks, openMovingMasks } from './moving-masks.js';
import type { RenderPlan } from './plan-render.js';
import {
  type ComposedPlate,
  type FrameOperation,
  join,
  mixPick,
  movingReels,
  STEPS,
  type StepFigures,
  sourcesOf,
} from './steps/index.js';

/** The steps of a plan, made ready over a source of frames. */
export interface StepsRun {
  /** Reads these frames of the take and brings them to where they can be shown. @param onProgress 0–1. */
  read(frames: readonly number[], onProgress?: (done: number) => void): Promise<void>;
  /** A frame of the reel. All that it shows must have been read. */
  show(place: number): PixelFrame;
  /** What lies on each other at a place of the reel, before it is laid together. */
  layers(place: number): ShownLayers;
  /** What is held, and through what the layers are seen; null where nothing is, or no frame was read. */
  plate(): ComposedPlate | null;
  /** What was measured so far. */
  figures(): StepFigures;
  /** Lets go of frames that were read. */
  forget(frames: Iterable<number>): void;
}

/** The pictures of one place of the reel, before they are laid over the plate. */
export interface ShownLayers {
  /** The whole picture as the reel shows it. */
  readonly whole: PixelFrame;
  /** What moves, the lowest first; the whole picture alone where nothing is held. */
  readonly moving: readonly PixelFrame[];
}

/** Frames that come from one file and lie alike, and the steps made ready for them. */
interface Batch {
  readonly file: SourceFile;
  readonly size: Size;
  readonly operations: readonly FrameOperation[];
}

/** The frames of the take that a plan shows, its plate among them; ascending. */
export function framesOf(plan: RenderPlan): number[] {
  const shown = sourcesOf(movingReels(plan).flat());
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
  return sourcesOf(reels.flatMap((reel) => reel.slice(place, place + 1)));
}

/**
 * Every input of the composed frames: which frame of which file each is, and what each step depends on.
 * @param beside what else the caller's result depends on.
 */
export function stepsKey(plan: RenderPlan, beside: unknown = null): string {
  const frames = framesOf(plan);
  const shows = frames.map((index) => {
    const { file, frame } = plan.take.frame(index);
    return [index, file.hash, frame];
  });
  const steps = [...STEPS.decoded, ...STEPS.composed, ...STEPS.reel];
  return JSON.stringify([beside, shows, steps.map((step) => [step.name, step.dependsOn(plan, frames)])]);
}

export async function startSteps(plan: RenderPlan, source: FrameSource): Promise<StepsRun> {
  const { take, still } = plan;
  const masks = still && (await openMovingMasks(still, source, take.size));
  const batches = new Map<string, Batch>();
  const operations: FrameOperation[] = [];
  const composed = new Map<number, PixelFrame>();
  let composedSteps: readonly FrameOperation[] | null = null;
  let reelSteps: ReturnType<typeof prepareReel> | null = null;
  let plate: ComposedPlate | null = null;

  async function batchOf(file: SourceFile, composition: Composition, way: string): Promise<Batch> {
    const there = batches.get(way);
    if (there) return there;
    const size = source.sizeOf(file, decodeSize(file.size, composition));
    const readPlate = (frame: number) => readOne(source, file, frame, size);
    const context = { plan, file, composition, size, moving: masks?.all ?? null, readPlate };
    const prepared: FrameOperation[] = [];
    for (const step of STEPS.decoded) {
      const operation = await step.prepare(context);
      if (operation) prepared.push(operation);
    }
    const batch = { file, size, operations: prepared };
    operations.push(...prepared);
    batches.set(way, batch);
    return batch;
  }

  /** Once the plate's frame has been composed, it is known what the later steps start from. */
  async function prepareRest(): Promise<readonly FrameOperation[]> {
    if (composedSteps) return composedSteps;
    plate = still && masks ? await composePlate(plan, masks, source, composed) : null;
    composedSteps = STEPS.composed.flatMap((step) => step.prepare(plan, plate) ?? []);
    operations.push(...composedSteps);
    return composedSteps;
  }

  return {
    async read(frames, onProgress = () => {}) {
      const first = still && !plate ? [still.plate.frame] : [];
      const missing = [...new Set([...frames, ...first])]
        .filter((frame) => !composed.has(frame))
        .sort((a, b) => a - b);
      let done = 0;
      for (const [way, { file, composition, takeFrames }] of groups(plan, missing)) {
        const batch = await batchOf(file, composition, way);
        const wanted = [...takeFrames.keys()].sort((a, b) => a - b);
        for await (const { frame, picture } of source.read(file, wanted, batch.size)) {
          const stands = takeFrames.get(frame) ?? [];
          const made = batch.operations.reduce((now, operation) => operation.apply(now, stands[0]), picture);
          for (const takeFrame of stands) composed.set(takeFrame, made);
          onProgress(++done / missing.length);
        }
      }
      const rest = await prepareRest();
      if (rest.length === 0) return;
      for (const frame of missing) {
        const picture = composed.get(frame);
        if (!picture || frame === still?.plate.frame) continue;
        composed.set(
          frame,
          rest.reduce((now, operation) => operation.apply(now, frame), picture),
        );
      }
    },
    show(place) {
      reelSteps ??= prepareReel(plan, plate, (frame) => frameOf(composed, frame));
      return reelSteps(place);
    },
    layers(place) {
      const joined = join.prepare({ plan, plate, take: (frame) => frameOf(composed, frame) });
      return {
        whole: mixPick(plan.reel[place], (frame) => frameOf(composed, frame)),
        moving: joined?.([], place) ?? [],
      };
    },
    plate: () => plate,
    figures: () => Object.assign({ steady: null, light: null }, ...operations.map((one) => one.figures?.())),
    forget(frames) {
      for (const frame of frames) if (frame !== still?.plate.frame) composed.delete(frame);
      // What was mixed of them goes as well.
      reelSteps = null;
    },
  };
}

function prepareReel(
  plan: RenderPlan,
  plate: ComposedPlate | null,
  take: (frame: number) => PixelFrame,
): (place: number) => PixelFrame {
  const prepared = STEPS.reel.flatMap((step) => step.prepare({ plan, plate, take }) ?? []);
  return (place) => prepared.reduce<readonly PixelFrame[]>((now, step) => step(now, place), [])[0];
}

async function composePlate(
  plan: RenderPlan,
  masks: MovingMasks,
  source: FrameSource,
  composed: ReadonlyMap<number, PixelFrame>,
): Promise<ComposedPlate> {
  const { plate } = plan.still as NonNullable<RenderPlan['still']>;
  const composition = plan.composition(plate.frame);
  const composedMasks = masks.each.map((mask) => composeMask(mask, composition));
  if (plate.kind === 'frame') return { picture: frameOf(composed, plate.frame), masks: composedMasks };
  const picture = await source.plate(plate.hash);
  const placement = { x: 0, y: 0, ...composition.canvas };
  return { picture: createCompose(picture, { ...composition, placement })(picture), masks: composedMasks };
}

async function readOne(
  source: FrameSource,
  file: SourceFile,
  frame: number,
  size: Size,
): Promise<PixelFrame> {
  for await (const { picture } of source.read(file, [frame], size)) return picture;
  throw new UserError('frame_unreadable', `Frame ${frame} cannot be read. Choose another plate.`);
}

interface Group {
  readonly file: SourceFile;
  readonly composition: Composition;
  /** Which frames of the take each frame of the file stands for. */
  readonly takeFrames: Map<number, number[]>;
}

/** Frames that can be read together, under what tells the groups apart. */
function groups({ take, composition }: RenderPlan, frames: readonly number[]): Map<string, Group> {
  const byWay = new Map<string, Group>();
  for (const index of frames) {
    const { file, frame } = take.frame(index);
    const way = JSON.stringify([file.hash, composition(index)]);
    const group = byWay.get(way) ?? { file, composition: composition(index), takeFrames: new Map() };
    group.takeFrames.set(frame, [...(group.takeFrames.get(frame) ?? []), index]);
    byWay.set(way, group);
  }
  return byWay;
}

function frameOf(composed: ReadonlyMap<number, PixelFrame>, frame: number): PixelFrame {
  const picture = composed.get(frame);
  if (!picture) throw new UserError('frame_unreadable', `Frame ${frame} of the take could not be read.`);
  return picture;
}
