import type { TrialFigures } from '@muted-pond/core/api';
import { playGif, readGif } from '@muted-pond/core/gif';
import { hexOf } from '@muted-pond/core/palette';
import { type Crew, createFrame, layOnMatte, type PixelFrame, pixelWords } from '@muted-pond/core/pixels';
import { type Recipe, takeOf } from '@muted-pond/core/recipe';
import { planRender, type RenderProgress, renderGif } from '@muted-pond/core/render';
import { createSimilarityMeter } from '@muted-pond/core/weigh';
import { composeReel } from './compose-reel.js';
import { callCrew } from './crew.js';
import { type MakingFile, sourceFile } from './making-file.js';
import type { MakingLayer } from './read-layers.js';

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
}

/** A file that is finished but for the figures that take a second look at it. */
export interface UnmeasuredGif {
  readonly bytes: Uint8Array;
  /** Reads the file back and compares it with the reel. */
  finish(): MadeGif;
}

/** Recipe and source to a finished file and its figures: the one way, for the server and the command line. */
export async function makeGif(task: MakingTask, options: MakingOptions = {}): Promise<MadeGif> {
  return (await encodeTask(task, options)).finish();
}

export async function encodeTask(task: MakingTask, options: MakingOptions = {}): Promise<UnmeasuredGif> {
  const { recipe, files, layers } = task;
  const { onProgress = () => {} } = options;
  const started = performance.now();
  const crew = callCrew();
  const take = takeOf(recipe, files.map(sourceFile));
  const plan = planRender(recipe, take);
  const composed = await composeReel(files, take, plan, layers, (done) =>
    onProgress({ doing: 'reading the footage', done: DECODE_SHARE * done }),
  );
  const encodeFrom = performance.now();
  const working = composed.frames.map((frame) => sharedCopy(frame, crew));
  const tell = ({ step, done }: RenderProgress) =>
    onProgress({ doing: DOING[step], done: DECODE_SHARE + ENCODE_SHARE * done });
  const gif = renderGif(working, plan.reel, recipe.weigh, recipe.plays, tell, crew);
  const encoded = performance.now();
  const delays = plan.reel.map((pick) => pick.delayCs);
  const finish = (): MadeGif => {
    onProgress({ doing: 'comparing with the source', done: DECODE_SHARE + ENCODE_SHARE });
    const seeThrough = canBeSeenThrough(composed.frames);
    const colours = gif.colours();
    return {
      bytes: gif.bytes,
      figures: {
        bytes: gif.bytes.length,
        width: plan.size.width,
        height: plan.size.height,
        frames: plan.reel.length,
        durationMs: delays.reduce((sum, delay) => sum + delay, 0) * 10,
        colors: gif.colors,
        likeness: measureSsim(composed.frames, gif.bytes, delays, seeThrough),
        seeThrough,
        steady: composed.steady,
        frameBytes: gif.frameBytes,
        palette: colours.palette.map(hexOf),
        palettes: gif.palettes,
        paletteShares: colours.shares,
        ms: {
          decode: Math.round(composed.decodeMs),
          compose: Math.round(composed.composeMs),
          encode: Math.round(encoded - encodeFrom),
          total: Math.round(performance.now() - started),
        },
      },
    };
  };
  return { bytes: gif.bytes, finish };
}

function canBeSeenThrough(reel: readonly PixelFrame[]): boolean {
  return reel.some((frame) => {
    let all = -1;
    for (const word of pixelWords(frame)) all &= word;
    return all >>> 24 !== 255;
  });
}

/** A copy for the engine to use up, where all its threads see it. */
function sharedCopy({ width, height, rgba }: PixelFrame, crew: Crew): PixelFrame {
  const copy = new Uint8Array(crew.allocate(rgba.length));
  copy.set(rgba);
  return createFrame(width, height, copy);
}

/** Reads the finished file back and compares what a viewer would show with the reel. */
function measureSsim(
  reel: readonly PixelFrame[],
  bytes: Uint8Array,
  delays: readonly number[],
  seeThrough: boolean,
): number {
  const meter = createSimilarityMeter(callCrew());
  // What can be seen through is compared as it looks on a page of middling grey.
  const onPage = (frame: PixelFrame) =>
    seeThrough ? layOnMatte(frame, frame, { x: 0, y: 0 }, '#808080') : frame;
  let shown = 0;
  for (const picture of playGif(readGif(bytes), delays)) meter.add(onPage(reel[shown++]), onPage(picture));
  return meter.result();
}
