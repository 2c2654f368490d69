import { readFile } from 'node:fs/promises';
import type { TrialFigures } from '@muted-pond/core/api';
import { playGif, readGif } from '@muted-pond/core/gif';
import { hasOnePalette, hexOf } from '@muted-pond/core/palette';
import { layOnMatte, type Matte, type PixelFrame, type Size, showAt } from '@muted-pond/core/pixels';
import { type Recipe, takeOf } from '@muted-pond/core/recipe';
import {
  copyForCrew,
  planRender,
  type RenderPlan,
  type SteadyFigures,
  startRendering,
} from '@muted-pond/core/render';
import { createSimilarityMeter } from '@muted-pond/core/weigh';
import { type ComposedReel, composeReel } from './compose-reel.js';
import { callCrew } from './crew.js';
import type { MakingLayer } from './frame-source.js';
import { type MakingFile, sourceFile } from './making-file.js';
import { joinSteady, MOST_HELD, mayBeClear, partsOf, sampleOf } from './reel-parts.js';

/** Everything a worker needs to make one file. Plain data: it travels between threads. */
export interface MakingTask {
  /** All that the recipe names. */
  readonly files: readonly MakingFile[];
  /** Masks and plates that the recipe names. */
  readonly layers: readonly MakingLayer[];
  readonly recipe: Recipe;
}

export interface MadeGif {
  readonly bytes: Uint8Array;
  readonly figures: TrialFigures;
}

export interface MakingProgress {
  /** 0–1 over the whole. */
  readonly done: number;
  readonly doing: string;
}

const DOING = {
  settle: 'settling the pixels',
  palette: 'choosing colours',
  dither: 'laying colours',
  write: 'writing the file',
} as const;

/** Shares of the whole for progress, as measured on the demo footage. */
const DECODE_SHARE = 0.45;
const ENCODE_SHARE = 0.45;

export interface MakingOptions {
  readonly onProgress?: (progress: MakingProgress) => void;
  /** Pixels × frames that are held at once. */
  readonly mostHeld?: number;
  /** Whether the figures will be asked for. */
  readonly measures?: boolean;
}

/** A file that is finished but for the figures that take a second look at it. */
export interface UnmeasuredGif {
  readonly bytes: Uint8Array;
  /** Reads the file back and compares it with the reel. */
  finish(): Promise<MadeGif>;
}

/** Recipe and source to a finished file and its figures: the one way, for the server and the command line. */
export async function makeGif(task: MakingTask, options: MakingOptions = {}): Promise<MadeGif> {
  return (await encodeTask(task, options)).finish();
}

export async function encodeTask(task: MakingTask, options: MakingOptions = {}): Promise<UnmeasuredGif> {
  const { recipe, files, layers } = task;
  const { onProgress = () => {}, mostHeld = MOST_HELD, measures = true } = options;
  const started = performance.now();
  const crew = callCrew();
  const take = takeOf(recipe, files.map(sourceFile));
  const plan = planRender(recipe, take);
  const { reel } = plan;
  const parts = partsOf(plan, mostHeld);
  const ms = { decode: 0, compose: 0, encode: 0 };
  let framesDone = 0;
  const compose = async (part: RenderPlan): Promise<ComposedReel> => {
    const composed = await composeReel(files, part, layers, (done) =>
      onProgress({
        doing: 'reading the footage',
        done: DECODE_SHARE * ((framesDone + part.reel.length * done) / reel.length),
      }),
    );
    ms.decode += composed.decodeMs;
    ms.compose += composed.composeMs;
    return composed;
  };

  const isSampled = parts.length > 1 && hasOnePalette(recipe.weigh.palette, recipe.weigh.colors);
  const sample = isSampled ? (await compose(sampleOf(plan))).frames : undefined;
  const first = await compose(parts[0]);
  const rendering = startRendering({
    reel,
    // Of a reel in parts, only the first is known yet.
    isOpaque: parts.length > 1 ? !mayBeClear(recipe, files) : !first.seeThrough,
    settings: recipe.weigh,
    plays: recipe.plays,
    counts: measures,
    sample: sample?.map((frame) => copyForCrew(frame, crew)),
    crew,
    onProgress: ({ step, done }) =>
      onProgress({ doing: DOING[step], done: DECODE_SHARE + ENCODE_SHARE * done }),
  });
  /** Kept to be compared with, where the reel is short enough. */
  const whole = parts.length === 1 ? first : null;
  const steady: (SteadyFigures | null)[] = [];
  let seeThrough = false;
  for (const part of parts) {
    const composed = part === parts[0] ? first : await compose(part);
    steady.push(composed.figures.steady);
    seeThrough ||= composed.seeThrough;
    const from = performance.now();
    rendering.add(composed.frames.map((frame) => copyForCrew(frame, crew)));
    framesDone += part.reel.length;
    ms.encode += performance.now() - from;
  }
  const gif = rendering.finish();

  async function finish(): Promise<MadeGif> {
    onProgress({ doing: 'comparing with the source', done: DECODE_SHARE + ENCODE_SHARE });
    const delays = reel.map((pick) => pick.delayCs);
    framesDone = reel.length;
    const references = parts.map((part) => async () => (whole ?? (await compose(part))).frames);
    const page = seeThrough ? pageOf(recipe) : null;
    const likeness = await measureSsim(references, gif.bytes, delays, page, plan.size);
    return {
      bytes: gif.bytes,
      figures: {
        bytes: gif.bytes.length,
        width: plan.size.width,
        height: plan.size.height,
        frames: reel.length,
        durationMs: delays.reduce((sum, delay) => sum + delay, 0) * 10,
        colors: gif.colors,
        likeness,
        seeThrough,
        steady: joinSteady(steady),
        frameBytes: gif.frameBytes,
        palette: gif.colours.palette.map(hexOf),
        palettes: gif.palettes,
        paletteShares: gif.colours.shares,
        ms: {
          decode: Math.round(ms.decode),
          compose: Math.round(ms.compose),
          encode: Math.round(ms.encode),
          total: Math.round(performance.now() - started),
        },
      },
    };
  }
  return { bytes: gif.bytes, finish };
}

/** What can be seen through is compared as it looks on its matte, or on a page of middling grey. */
function pageOf({ weigh: { matte } }: Recipe): Matte {
  return matte === 'transparent' ? '#808080' : matte;
}

/** A finished file that is to be compared with its reel at a width. Plain data: it travels between threads. */
export interface SeenTask extends MakingTask {
  /** The finished file of the recipe. */
  readonly path: string;
  /** px; the reel is never made larger than its source. */
  readonly width: number;
}

/** SSIM of a finished file against its full-colour reel, both seen at a width that may be larger than the file's. */
export async function measureSeen(
  { recipe, files, layers, path, width }: SeenTask,
  onProgress: (done: number) => void,
): Promise<number> {
  const take = takeOf(recipe, files.map(sourceFile));
  const plan = planRender({ ...recipe, weigh: { ...recipe.weigh, width } }, take);
  const parts = partsOf(plan, MOST_HELD);
  let made = 0;
  const references = parts.map((part) => async () => {
    const { frames } = await composeReel(files, part, layers, (done) =>
      onProgress((made + part.reel.length * done) / plan.reel.length),
    );
    made += part.reel.length;
    return frames;
  });
  const page = mayBeClear(recipe, files) ? pageOf(recipe) : null;
  const delays = plan.reel.map((pick) => pick.delayCs);
  return measureSsim(references, new Uint8Array(await readFile(path)), delays, page, plan.size);
}

/** Reads the finished file back and compares what a viewer would show at a size with the reel, part by part. */
async function measureSsim(
  parts: readonly (() => Promise<readonly PixelFrame[]>)[],
  bytes: Uint8Array,
  delays: readonly number[],
  page: Matte | null,
  size: Size,
): Promise<number> {
  const meter = createSimilarityMeter(callCrew());
  const onPage = (frame: PixelFrame) => (page ? layOnMatte(frame, frame, { x: 0, y: 0 }, page) : frame);
  const pictures = playGif(readGif(bytes), delays);
  for (const part of parts) {
    for (const reference of await part()) {
      const picture = pictures.next();
      if (!picture.done) meter.add(onPage(reference), showAt(onPage(picture.value), size));
    }
  }
  return meter.result();
}
