import { type PixelFrame, pixelWords } from '@muted-pond/core/pixels';
import {
  composedKey,
  framesAt,
  framesOf,
  type RenderPlan,
  type StepFigures,
  type StepsRun,
  startSteps,
} from '@muted-pond/core/render';
import { threadCache } from '../threads/index.js';
import { type MakingLayer, openFrameSource } from './frame-source.js';
import type { MakingFile } from './making-file.js';

export interface ComposedReel {
  /** One for each frame of the reel; a source frame that is shown twice stands there twice. */
  readonly frames: readonly PixelFrame[];
  readonly decodeMs: number;
  readonly composeMs: number;
  readonly figures: StepFigures;
}

/** The part that is cached. */
type CachedReel = Omit<ComposedReel, 'decodeMs' | 'composeMs'>;

/** The steps that were run last in this thread: a change of the dress alone reuses their frames. */
let latest: StepsRun | null = null;
/** Frames of the take that are held for that, bytes. */
const MOST_LATEST = 96 * 1024 ** 2;

export interface ComposeListener {
  /** @param done 0–1. */
  onProgress(done: number): void;
  /** The frames of the reel in their order, each as soon as it is there. */
  onFrame?(frame: PixelFrame): void;
}

/** Takes all frames of the plan's reel through the steps, or returns them from the cache. */
export async function composeReel(
  files: readonly MakingFile[],
  plan: RenderPlan,
  layers: readonly MakingLayer[],
  { onProgress, onFrame = () => {} }: ComposeListener,
): Promise<ComposedReel> {
  const key = composedKey(plan);
  const kept = threadCache.get(key) as CachedReel | undefined;
  if (kept) {
    kept.frames.forEach(onFrame);
    return { ...kept, decodeMs: 0, composeMs: 0 };
  }
  const started = performance.now();
  const source = openFrameSource(files, layers);
  const run = await (latest ? latest.replan(plan, source) : startSteps(plan, source));
  latest = null;
  const wanted = framesOf(plan);
  const frames: PixelFrame[] = [];
  const missing = new Set(wanted);
  const showNext = () => {
    const frame = run.show(frames.length);
    frames.push(frame);
    onFrame(frame);
  };
  await run.read(wanted, onProgress, (read) => {
    missing.delete(read);
    const isThere = () => framesAt(plan, frames.length).every((frame) => !missing.has(frame));
    while (frames.length < plan.reel.length && isThere()) showNext();
  });
  while (frames.length < plan.reel.length) showNext();
  const made: CachedReel = { frames, figures: run.figures() };
  threadCache.set(key, made);
  if (wanted.length * plan.size.width * plan.size.height * 4 <= MOST_LATEST) latest = run;
  const decodeMs = source.waitedMs();
  return { ...made, decodeMs, composeMs: performance.now() - started - decodeMs };
}

/** Whether any pixel of a reel is not opaque. */
export function hasAlpha({ frames }: ComposedReel): boolean {
  return frames.some((frame) => {
    let all = -1;
    for (const word of pixelWords(frame)) all &= word;
    return all >>> 24 !== 255;
  });
}
