import type { SteadyFigures } from '@muted-pond/core/api';
import { createFrame, type PixelFrame, pixelWords, type Size } from '@muted-pond/core/pixels';
import type { Take, TakeFrame } from '@muted-pond/core/recipe';
import {
  type Compose,
  type Composition,
  composeMask,
  createCompose,
  createHoldStill,
  decodeSize,
  type HeldStill,
  joinFrames,
  type RenderPlan,
  sourcesOf,
} from '@muted-pond/core/render';
import type { Mask, Plate } from '@muted-pond/core/still';
import { ComposedReels } from './composed-reels.js';
import { decodeKept } from './kept-frames.js';
import type { MakingFile } from './making-file.js';
import { layerPath, type MakingLayer, openMovingMasks, readPlate } from './read-layers.js';
import { createSteadier } from './steady-frames.js';

export interface ComposedReel {
  /** One a pick of the reel; a frame shown twice stands there twice. */
  readonly frames: readonly PixelFrame[];
  readonly decodeMs: number;
  readonly composeMs: number;
  /** Where frames were steadied. */
  readonly steady: SteadyFigures | null;
  /** Whether any pixel is not opaque. */
  readonly seeThrough: boolean;
}

const reels = new ComposedReels();

/** Frames of the take that come from one file and lie alike, so that they are decoded and composed together. */
interface Batch {
  readonly file: MakingFile;
  /** Which frame of the take each frame of the file stands for. */
  readonly takeFrames: Map<number, number[]>;
}

/** Reads and composes every frame that the plan's reel shows, each once. */
export async function composeReel(
  files: readonly MakingFile[],
  take: Take,
  plan: RenderPlan,
  layers: readonly MakingLayer[],
  onProgress: (done: number) => void,
): Promise<ComposedReel> {
  const { still } = plan;
  const shown = sourcesOf(still ? still.layers.flatMap(({ reel }) => reel) : plan.reel);
  const plateFrame = still?.plate.frame ?? null;
  const wanted =
    plateFrame === null || shown.includes(plateFrame) ? shown : [...shown, plateFrame].sort((a, b) => a - b);
  const key = keyOf(files, take, plan, wanted);
  const kept = reels.get(key);
  if (kept) return { ...kept, decodeMs: 0, composeMs: 0 };

  const composed = new Map<number, PixelFrame>();
  const started = performance.now();
  let composeMs = 0;
  let steady: SteadyFigures | null = null;
  const masks = still && (await openMovingMasks(still, layers, take.size));
  for (const { file, takeFrames } of batches(files, take, plan, wanted)) {
    const composition = plan.composition(firstOf(takeFrames));
    const size = decodeSize(file.facts, composition);
    const steadier =
      still?.steady && masks && plateFrame !== null && file.facts.kind !== 'picture'
        ? createSteadier(await decodeOne(file, plateFrame, size), masks.all, file.facts)
        : null;
    let compose: Compose | null = null;
    for await (const { frame, data } of decodeKept({
      ...file,
      frames: [...takeFrames.keys()].sort((a, b) => a - b),
      size,
    })) {
      const from = performance.now();
      compose ??= createCompose(size, composition);
      const decoded = createFrame(size.width, size.height, data);
      const made = compose(steadier && frame !== plateFrame ? steadier.steady(decoded) : decoded);
      for (const takeFrame of takeFrames.get(frame) ?? []) composed.set(takeFrame, made);
      composeMs += performance.now() - from;
      onProgress(composed.size / wanted.length);
    }
    if (steadier) steady = steadier.figures();
  }
  const from = performance.now();
  const composedAt = (source: number) => composed.get(source) as PixelFrame;
  const frames =
    still && masks
      ? await holdFrames(plan, still, masks.each, layers, composedAt)
      : joinFrames(plan.reel, composedAt);
  composeMs += performance.now() - from;
  const seeThrough = canBeSeenThrough(frames);
  reels.put(key, { frames, steady, seeThrough });
  return { frames, steady, seeThrough, decodeMs: performance.now() - started - composeMs, composeMs };
}

/**
 * Everything that the composed frames depend on: the reels, which frame of which file each frame of the take is, how it is
 * composed, and what is held.
 */
function keyOf(
  files: readonly MakingFile[],
  take: Take,
  { reel, still, composition }: RenderPlan,
  wanted: readonly number[],
): string {
  // Frames are composed alike but for a few: each way is written once, and named by its place.
  const ways = new Map<string, number>();
  const wayOf = (frame: number) => {
    const way = JSON.stringify(composition(frame));
    const place = ways.get(way) ?? ways.size;
    ways.set(way, place);
    return place;
  };
  const shows = wanted.map((takeFrame) => {
    const { file, frame } = take.frame(takeFrame);
    return [takeFrame, file.hash, frame, wayOf(takeFrame)];
  });
  return JSON.stringify([
    files.map(({ hash, path }) => [hash, path]),
    [reel, ...(still?.layers ?? []).map((layer) => layer.reel)].map((one) =>
      one.map(({ source, blend }) => [source, blend]),
    ),
    shows,
    [...ways.keys()],
    still && { ...still, layers: still.layers.map(({ ripples }) => ripples) },
  ]);
}

function canBeSeenThrough(reel: readonly PixelFrame[]): boolean {
  return reel.some((frame) => {
    let all = -1;
    for (const word of pixelWords(frame)) all &= word;
    return all >>> 24 !== 255;
  });
}

/** Even light, join, plate and ripples, in this order. */
async function holdFrames(
  plan: RenderPlan,
  still: HeldStill,
  masks: readonly Mask[],
  layers: readonly MakingLayer[],
  composedAt: (source: number) => PixelFrame,
): Promise<PixelFrame[]> {
  const composition = plan.composition(still.plate.frame);
  const plate = await composePlate(still.plate, composition, layers, composedAt);
  const composedMasks = masks.map((mask) => composeMask(mask, composition));
  const step = createHoldStill(plate, composedMasks, still.evenLight);
  const lit = new Map<number, PixelFrame>();
  const litAt = (source: number): PixelFrame => {
    const there = lit.get(source);
    if (there) return there;
    const frame = source === still.plate.frame ? composedAt(source) : step.light(composedAt(source));
    lit.set(source, frame);
    return frame;
  };
  const moving = still.layers.map(({ reel }) => joinFrames(reel, litAt));
  return plan.reel.map((_, place) => step.hold(moving.map((frames) => frames[place])));
}

async function composePlate(
  plate: Plate,
  composition: Composition,
  layers: readonly MakingLayer[],
  composedAt: (source: number) => PixelFrame,
): Promise<PixelFrame> {
  if (plate.kind === 'frame') return composedAt(plate.frame);
  const picture = await readPlate(layerPath(layers, plate.hash));
  const placement = { x: 0, y: 0, ...composition.canvas };
  return createCompose(picture, { ...composition, placement })(picture);
}

async function decodeOne(file: MakingFile, frame: number, size: Size): Promise<PixelFrame> {
  for await (const { data } of decodeKept({ ...file, frames: [frame], size })) {
    return createFrame(size.width, size.height, data);
  }
  throw new RangeError(`Frame ${frame} of “${file.name}” cannot be read. Choose another plate.`);
}

function batches(
  files: readonly MakingFile[],
  take: Take,
  plan: RenderPlan,
  wanted: readonly number[],
): Iterable<Batch> {
  const byWay = new Map<string, Batch>();
  for (const takeFrame of wanted) {
    const { file, frame }: TakeFrame = take.frame(takeFrame);
    const way = JSON.stringify([file.hash, plan.composition(takeFrame)]);
    let batch = byWay.get(way);
    if (!batch) {
      const making = files.find((candidate) => candidate.hash === file.hash);
      if (!making) throw new Error(`The file ${file.hash} was not handed to the maker.`);
      batch = { file: making, takeFrames: new Map() };
      byWay.set(way, batch);
    }
    batch.takeFrames.set(frame, [...(batch.takeFrames.get(frame) ?? []), takeFrame]);
  }
  return byWay.values();
}

function firstOf(takeFrames: ReadonlyMap<number, readonly number[]>): number {
  for (const [first] of takeFrames.values()) return first;
  throw new RangeError('A batch without frames.');
}
