import { readFile } from 'node:fs/promises';
import type { TrialFigures } from '@muted-pond/core/api';
import { type FileKindId, fileKind } from '@muted-pond/core/files';
import { layOnMatte, type Matte, type PixelFrame, type Size, showAt } from '@muted-pond/core/pixels';
import { type Recipe, takeOf } from '@muted-pond/core/recipe';
import { planRender, type RenderPlan, type SteadyFigures } from '@muted-pond/core/render';
import { createSimilarityMeter } from '@muted-pond/core/weigh';
import { assertEncoder } from '../encoding/index.js';
import { collectEverywhere, helperThreads } from '../threads/index.js';
import { checkKind } from './check-kind.js';
import { type ComposedReel, type ComposeListener, composeReel, hasAlpha } from './compose-reel.js';
import { MAKERS, type MadeBytes } from './kinds/index.js';
import { sourceFile } from './making-file.js';
import type { MakingTask } from './making-task.js';
import {
  endOfPart,
  joinSteady,
  MOST_HELD,
  mayBeClear,
  mostFrames,
  nextPart,
  partsOf,
  placesOf,
  sampleOf,
} from './reel-parts.js';
import { reshape } from './reshape.js';
import { weavesOf } from './weaves.js';

export interface MadeFile {
  readonly bytes: Uint8Array;
  readonly figures: TrialFigures;
}

export interface MakingProgress {
  /** 0–1 over the whole. */
  readonly done: number;
  readonly doing: string;
  /** The finished file, as soon as it is there: what follows only measures it. */
  readonly file?: { readonly kind: FileKindId; readonly size: Size; readonly bytes: Uint8Array };
}

/** Shares of the whole for progress, as measured on the demo footage. */
const DECODE_SHARE = 0.45;
const ENCODE_SHARE = 0.45;
/** Share of reading that weaving takes, where the weave is not cached. */
const WEAVE_SHARE = 0.5;

export interface MakingOptions {
  readonly onProgress?: (progress: MakingProgress) => void;
  /** Pixels × frames that are held at once. */
  readonly mostHeld?: number;
  /** Whether the figures will be asked for. */
  readonly measures?: boolean;
}

/** A finished file whose measured figures are still missing. */
export interface UnmeasuredFile {
  readonly bytes: Uint8Array;
  /** Of its pictures, px. */
  readonly size: Size;
  /** Reads the file back and compares it with the reel. */
  finish(): Promise<MadeFile>;
}

/** Recipe and source to a finished file and its figures: the one way, for the server and the command line. */
export async function makeFile(task: MakingTask, options: MakingOptions = {}): Promise<MadeFile> {
  return (await encodeTask(task, options)).finish();
}

/** The file of the recipe's kind. */
export async function encodeTask(task: MakingTask, options: MakingOptions = {}): Promise<UnmeasuredFile> {
  const { recipe, files, layers } = task;
  const { mostHeld = MOST_HELD, measures = true } = options;
  const onProgress = risingOnly(options.onProgress);
  const started = performance.now();
  // The helpers are ready by the time the footage is decoded.
  const threads = helperThreads();
  const { kind } = recipe.weigh;
  const maker = MAKERS[kind];
  const plan = await planFile(task, (done) =>
    onProgress({ doing: 'weaving', done: DECODE_SHARE * WEAVE_SHARE * done }),
  );
  const { reel } = plan;
  const mayBeSeenThrough = mayBeClear(recipe, files);
  checkKind(recipe, { size: plan.size, frames: reel.length, mayBeClear: mayBeSeenThrough });
  const shape = shapeOf(recipe, plan);
  // Asked while the footage is being decoded.
  const hasEncoder = maker.encoder ? assertEncoder(maker.encoder) : Promise.resolve();
  hasEncoder.catch(() => {});
  const most = mostFrames(plan.size, mostHeld);
  const ms = { decode: 0, compose: 0, encode: 0 };
  let framesDone = 0;
  const compose = async (part: RenderPlan, onFrame?: ComposeListener['onFrame']): Promise<ComposedReel> => {
    const composed = await composeReel(files, part, layers, {
      onFrame,
      onProgress: (done) =>
        onProgress({
          doing: 'reading the footage',
          done: DECODE_SHARE * ((framesDone + part.reel.length * done) / reel.length),
        }),
    });
    ms.decode += composed.decodeMs;
    ms.compose += composed.composeMs;
    return composed;
  };

  const isInParts = reel.length > most;
  const firstPart = () => placesOf(plan, 0, nextPart(reel.length, most));
  // Let go of as soon as it is not needed any more.
  let begun: ComposedReel | null = null;
  // Whether a short reel is transparent is known once it is there, and an encoder need not wait for it.
  if (maker.encoder || (mayBeSeenThrough && !isInParts)) begun = await compose(firstPart());
  await hasEncoder;
  const making = await maker.start({
    ...{ recipe, plan, isInParts, counts: measures, threads },
    // Of a reel in parts, only the first is known yet.
    isOpaque: !mayBeSeenThrough || (begun !== null && !isInParts && !hasAlpha(begun)),
    sample: async () => (await compose(sampleOf(plan))).frames,
    onProgress: (doing, done) => onProgress({ doing, done: DECODE_SHARE + ENCODE_SHARE * done }),
  });
  /** Kept to be compared with, where the reel is short enough. */
  let whole: ComposedReel | null = null;
  const steady: (SteadyFigures | null)[] = [];
  let isSeenThrough = false;

  /** The next frames of the reel. */
  async function composeNext(part: RenderPlan): Promise<readonly PixelFrame[]> {
    const composed = begun ?? (await compose(part, making.look?.(part.reel.length)));
    begun = null;
    if (!isInParts) whole = composed;
    steady.push(composed.figures.steady);
    isSeenThrough ||= mayBeSeenThrough && hasAlpha(composed);
    framesDone += part.reel.length;
    return composed.frames.map(shape.shaped);
  }

  async function encode(): Promise<MadeBytes> {
    /** Composed already, of a scene that begins with the next part. */
    let held: readonly PixelFrame[] = [];
    for (let first = 0; first < reel.length; ) {
      const from = first + held.length;
      const until = Math.max(from, first + nextPart(reel.length - first, most));
      const fresh = until > from ? await composeNext(placesOf(plan, from, until)) : [];
      const frames = [...held, ...fresh];
      const end = until < reel.length ? endOfPart(frames) : frames.length;
      const began = performance.now();
      await making.add(frames.slice(0, end));
      ms.encode += performance.now() - began;
      held = frames.slice(end);
      first += end;
      if (isInParts) collectEverywhere();
    }
    const began = performance.now();
    const finished = await making.finish();
    ms.encode += performance.now() - began;
    return finished;
  }

  const made = await encode().catch(async (error: unknown) => {
    await making.abandon?.();
    throw error;
  });

  async function finish(): Promise<MadeFile> {
    onProgress({
      ...{ doing: 'comparing with the source', done: DECODE_SHARE + ENCODE_SHARE },
      file: { kind, size: shape.size, bytes: made.bytes },
    });
    const delays = reel.map((pick) => pick.delayCs);
    framesDone = reel.length;
    const references = partsOf(plan, mostHeld).map(
      (part) => async () => (whole ?? (await compose(part))).frames.map(shape.shaped),
    );
    const page = isSeenThrough ? pageOf(recipe) : null;
    const likeness = await measureSsim(references, maker.read(made.bytes, delays), page, shape.size);
    const rounds = maker.rounds?.(recipe, plan) ?? 1;
    const roundMs = delays.reduce((sum, delay) => sum + delay, 0) * 10;
    return {
      bytes: made.bytes,
      figures: {
        kind,
        bytes: made.bytes.length,
        width: shape.size.width,
        height: shape.size.height,
        frames: reel.length * rounds,
        durationMs: fileKind(kind).holds.motion ? Math.round(roundMs * rounds) : 0,
        ...(made.palette ?? { colors: null, palette: [], palettes: 0, paletteShares: [] }),
        likeness,
        hasAlpha: isSeenThrough && holdsAlpha(recipe),
        steady: joinSteady(steady),
        frameBytes: typeof made.frameBytes === 'function' ? await made.frameBytes() : made.frameBytes,
        ms: {
          decode: Math.round(ms.decode),
          compose: Math.round(ms.compose),
          encode: Math.round(ms.encode),
          total: Math.round(performance.now() - started),
        },
      },
    };
  }
  return { bytes: made.bytes, size: shape.size, finish };
}

/** Each step counts from its own beginning; what was reached is never taken back. */
function risingOnly(onProgress: MakingOptions['onProgress']): (progress: MakingProgress) => void {
  let reached = 0;
  return ({ done, ...rest }) => {
    reached = Math.max(reached, done);
    onProgress?.({ ...rest, done: reached });
  };
}

/** The places of the reel that the recipe's kind of file holds. */
async function planFile(task: MakingTask, onProgress: (done: number) => void): Promise<RenderPlan> {
  const { recipe, files } = task;
  const weaves = await weavesOf(task, onProgress);
  const plan = planRender(recipe, takeOf(recipe, files.map(sourceFile)), { weaves });
  return MAKERS[recipe.weigh.kind].places?.(recipe, plan) ?? plan;
}

/** The file's pictures, where its kind has sizes of its own. */
function shapeOf(recipe: Recipe, { size }: RenderPlan) {
  const own = MAKERS[recipe.weigh.kind].sizeOf?.(recipe, size) ?? size;
  return { size: own, shaped: (frame: PixelFrame) => reshape(frame, own) };
}

/** Where a kind holds no alpha, or none was left, nothing is transparent. */
function holdsAlpha({ weigh }: Recipe): boolean {
  return fileKind(weigh.kind).holds.alpha !== 'none';
}

/** What is transparent is compared as it looks on its matte, or on a page of middling grey. */
function pageOf({ weigh: { matte } }: Recipe): Matte {
  return matte === 'transparent' ? '#808080' : matte;
}

/**
 * A finished file that is to be compared with its reel at a width. Plain data: it travels between threads.
 */
export interface SeenTask extends MakingTask {
  /** The finished file of the recipe. */
  readonly path: string;
  /** px; the reel is never made larger than its source. */
  readonly width: number;
}

/**
 * SSIM of a finished file against its full-colour reel, both seen at a width that may be larger than the
 * file's.
 */
export async function measureSeen(task: SeenTask, onProgress: (done: number) => void): Promise<number> {
  const { recipe, files, layers, path, width } = task;
  const seen = { ...recipe, weigh: { ...recipe.weigh, width } };
  const plan = await planFile({ ...task, recipe: seen }, () => onProgress(0));
  const parts = partsOf(plan, MOST_HELD);
  const shape = shapeOf(recipe, plan);
  let made = 0;
  const references = parts.map((part) => async () => {
    const { frames } = await composeReel(files, part, layers, {
      onProgress: (done) => onProgress((made + part.reel.length * done) / plan.reel.length),
    });
    made += part.reel.length;
    return frames.map(shape.shaped);
  });
  const page = mayBeClear(recipe, files) ? pageOf(recipe) : null;
  const delays = plan.reel.map((pick) => pick.delayCs);
  const pictures = MAKERS[recipe.weigh.kind].read(new Uint8Array(await readFile(path)), delays);
  return measureSsim(references, pictures, page, shape.size, () => onProgress(made / plan.reel.length));
}

/** Compares what a viewer would show at a size with the reel, part by part. */
async function measureSsim(
  parts: readonly (() => Promise<readonly PixelFrame[]>)[],
  pictures: AsyncIterable<PixelFrame> | Iterable<PixelFrame>,
  page: Matte | null,
  size: Size,
  onPicture: () => void = () => {},
): Promise<number> {
  const meter = createSimilarityMeter(helperThreads());
  const onPage = (frame: PixelFrame) => (page ? layOnMatte(frame, frame, { x: 0, y: 0 }, page) : frame);
  let references: readonly PixelFrame[] = [];
  let [part, place] = [0, 0];
  for await (const picture of pictures) {
    while (place >= references.length && part < parts.length) {
      references = await parts[part++]();
      place = 0;
    }
    const reference = references[place++];
    if (!reference) break;
    meter.add(onPage(reference), showAt(onPage(picture), size));
    onPicture();
  }
  return meter.result();
}
