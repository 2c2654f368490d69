import { UserError } from '../errors/index.js';
import type { PixelFrame, Size } from '../pixels/index.js';
import type { SourceFile } from '../recipe/index.js';
import type { Mask } from '../still/index.js';
import { type Composition, createCompose, decodeSize } from './compose.js';
import { composeMask } from './compose-mask.js';
import type { FrameSource } from './frame-source.js';
import { type MovingMasks, openMovingMasks } from './moving-masks.js';
import type { RenderPlan } from './plan-render.js';
import {
  type ComposedPlate,
  type FrameOperation,
  STEPS,
  type StepFigures,
  veilPicture,
} from './steps/index.js';

/** Frames of the take, brought by the steps to where a reel can show them. */
export interface TakeFrames {
  /**
   * Reads these. @param onProgress 0–1. @param onRead is told each as soon as it can be had, where that is before
   * all others have been read.
   */
  read(
    frames: readonly number[],
    onProgress?: (done: number) => void,
    onRead?: (frame: number) => void,
  ): Promise<void>;
  /** One that was read. @throws UserError where it was not. */
  get(frame: number): PixelFrame;
  /** What is held, and through what the layers are seen; null where nothing is, or no frame was read. */
  plate(): ComposedPlate | null;
  /** What was measured so far. */
  figures(): StepFigures;
  /** Lets go of frames that were read. */
  forget(frames: Iterable<number>): void;
}

/** Frames that come from one file and lie alike, and the steps made ready for them. */
interface Batch {
  readonly file: SourceFile;
  readonly size: Size;
  readonly operations: readonly FrameOperation[];
}

export async function openTakeFrames(plan: RenderPlan, source: FrameSource): Promise<TakeFrames> {
  const { take, still } = plan;
  // What the others are brought to: it comes first, and stays.
  const anchorFrame = still ? still.plate.frame : (plan.steadyTo?.frame ?? null);
  const masks = still && (await openMovingMasks(still, source, take.size));
  const veilMasks = await openVeilMasks(plan, source);
  // Only what a veil does to a frame depends on which one it is.
  const areAlike = !plan.dress.veils.some((veil) => veil.shown);
  const batches = new Map<string, Batch>();
  const operations: FrameOperation[] = [];
  const composed = new Map<number, PixelFrame>();
  let composedSteps: readonly FrameOperation[] | null = null;
  let plate: ComposedPlate | null = null;

  async function batchOf(file: SourceFile, composition: Composition, way: string): Promise<Batch> {
    const there = batches.get(way);
    if (there) return there;
    const size = source.sizeOf(file, decodeSize(file.size, composition));
    const prepared: FrameOperation[] = [];
    const readPlate = async (frame: number) =>
      through(prepared, await readOne(source, file, frame, size), frame);
    const readSome = async (frames: readonly number[]) => {
      const pictures: PixelFrame[] = [];
      for await (const { frame, picture } of source.read(file, frames, size)) {
        pictures.push(through(prepared, picture, frame));
      }
      return pictures;
    };
    const moving = masks?.all ?? null;
    const context = { plan, file, composition, size, moving, veilMasks, readPlate, readSome };
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
    plate = still && masks ? await composePlate(plan, masks, source, composed, veilMasks) : null;
    const anchor = plan.steadyTo && frameOf(composed, plan.steadyTo.frame);
    composedSteps = STEPS.composed.flatMap((step) => step.prepare(plan, plate, anchor) ?? []);
    operations.push(...composedSteps);
    return composedSteps;
  }

  return {
    async read(frames, onProgress = () => {}, onRead = () => {}) {
      const first = anchorFrame !== null && !composedSteps ? [anchorFrame] : [];
      const missing = [...new Set([...frames, ...first])]
        .filter((frame) => !composed.has(frame))
        .sort((a, b) => a - b);
      // Without a frame that the others are brought to, nothing has to be waited for.
      const isAtOnce = anchorFrame === null && (await prepareRest()).length === 0;
      let done = 0;
      for (const [way, { file, composition, takeFrames }] of groups(plan, missing)) {
        const batch = await batchOf(file, composition, way);
        const wanted = [...takeFrames.keys()].sort((a, b) => a - b);
        for await (const { frame, picture } of source.read(file, wanted, batch.size)) {
          const stands = takeFrames.get(frame) ?? [];
          const first = through(batch.operations, picture, stands[0]);
          for (const takeFrame of stands) {
            const isFirst = areAlike || takeFrame === stands[0];
            composed.set(takeFrame, isFirst ? first : through(batch.operations, picture, takeFrame));
            if (isAtOnce) onRead(takeFrame);
          }
          onProgress(++done / missing.length);
        }
      }
      const rest = await prepareRest();
      if (rest.length === 0) return;
      for (const frame of missing) {
        const picture = composed.get(frame);
        if (!picture || frame === anchorFrame) continue;
        composed.set(frame, through(rest, picture, frame));
      }
    },
    get: (frame) => frameOf(composed, frame),
    plate: () => plate,
    figures: () => Object.assign({ steady: null, light: null }, ...operations.map((one) => one.figures?.())),
    forget(frames) {
      for (const frame of frames) if (frame !== anchorFrame) composed.delete(frame);
    },
  };
}

function through(operations: readonly FrameOperation[], picture: PixelFrame, frame: number): PixelFrame {
  return operations.reduce((now, operation) => operation.apply(now, frame), picture);
}

async function openVeilMasks({ dress }: RenderPlan, source: FrameSource): Promise<Map<string, Mask>> {
  const masks = new Map<string, Mask>();
  for (const { mask, shown } of dress.veils) if (mask && shown) masks.set(mask, await source.mask(mask));
  return masks;
}

async function composePlate(
  plan: RenderPlan,
  masks: MovingMasks,
  source: FrameSource,
  composed: ReadonlyMap<number, PixelFrame>,
  veilMasks: ReadonlyMap<string, Mask>,
): Promise<ComposedPlate> {
  const { plate } = plan.still as NonNullable<RenderPlan['still']>;
  const composition = plan.composition(plate.frame);
  const composedMasks = masks.each.map((mask) => composeMask(mask, composition));
  if (plate.kind === 'frame') return { picture: frameOf(composed, plate.frame), masks: composedMasks };
  const placement = { x: 0, y: 0, ...composition.canvas };
  // It was made from a frame that may show what a veil hides.
  const picture = veilPicture(plan, await source.picture(plate.hash), plate.frame, placement, veilMasks);
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
