import type { LimitValues } from '@muted-pond/core/api';
import { UserError } from '@muted-pond/core/errors';
import { QUALITIES } from '@muted-pond/core/files';
import {
  changeWeigh,
  framedSize,
  RECIPE_LIMITS,
  type Recipe,
  sourceHashes,
  takeOf,
} from '@muted-pond/core/recipe';
import { loopOf } from '@muted-pond/core/render';
import { reelCentiseconds } from '@muted-pond/core/timing';
import { FIT_KINDS, type FitKind, type FitResult, type FitSettings, fitUnder } from '@muted-pond/core/weigh';
import {
  encodeTask,
  type MadeFile,
  type MakingProgress,
  type MakingTask,
  type UnmeasuredFile,
} from './make-file.js';
import { sourceFile } from './making-file.js';

/** A finished file under a limit. */
export interface FittedFile {
  readonly kind: FitKind;
  readonly recipe: Recipe;
  readonly made: MadeFile;
  readonly encodes: number;
}

export interface FitTask extends MakingTask {
  readonly limit: LimitValues;
}

/** Rates that are worth beginning with, frames a second. */
const BEST_RATE = 15;

/**
 * Three finished files under a limit, each the heaviest of its way; one where the best fits as it is.
 * @throws UserError with what would help where even the lightest file is too heavy, or the reel is too long.
 */
export async function fitFiles(
  task: FitTask,
  onProgress: (progress: MakingProgress) => void,
): Promise<FittedFile[]> {
  const { limit, recipe } = task;
  const seconds = reelCentiseconds(loopOf(recipe, takeFrom(task)).reel) / 100;
  if (limit.seconds !== null && seconds > limit.seconds) {
    throw new UserError(
      'reel_too_slow',
      `The reel lasts ${seconds.toFixed(2)} s, and “${limit.name}” takes ${limit.seconds} s. Shorten the span in Cut, or play it faster in Loop.`,
    );
  }
  const best = bestSettings(task);
  const files: FittedFile[] = [];
  for (const [turn, kind] of FIT_KINDS.entries()) {
    let encodes = 0;
    const result: FitResult<{ gif: UnmeasuredFile; recipe: Recipe }> = await fitUnder(
      kind,
      best,
      limit.bytes,
      async (settings) => {
        const next = withSettings(recipe, settings);
        const doing = `looking for the ${KIND_WORDS[kind]} file, try ${++encodes}`;
        const gif = await encodeTask(
          { ...task, recipe: next },
          { onProgress: ({ done }) => onProgress({ doing, done: (turn + tryShare(encodes, done)) / 3 }) },
        );
        return { file: { gif, recipe: next }, bytes: gif.bytes.length };
      },
    );
    if (result.type === 'too-heavy') {
      if (kind !== FIT_KINDS[FIT_KINDS.length - 1]) continue;
      if (files.length > 0) break;
      throw tooHeavy(task, result.settings, result.bytes, seconds);
    }
    const { file, settings } = result.fitted;
    files.push({ kind, recipe: file.recipe, made: await file.gif.finish(), encodes: result.fitted.encodes });
    // Nothing had to be given up, so every way is this one.
    if (settings === best) return files;
  }
  return files;
}

/**
 * One file under a number of bytes, which begins at the recipe's own settings and stays as sharp as it can.
 * @throws UserError where even the lightest is heavier.
 */
export async function fitBelow(task: MakingTask, bytes: number): Promise<UnmeasuredFile> {
  const { weigh } = task.recipe;
  const frameRate = weigh.frameRate === 'source' ? RECIPE_LIMITS.frameRate.max : weigh.frameRate;
  const result = await fitUnder(
    'sharp',
    { ...weigh.gif, width: weigh.width, frameRate },
    bytes,
    async (settings) => {
      const file = await encodeTask({ ...task, recipe: withSettings(task.recipe, settings) });
      return { file, bytes: file.bytes.length };
    },
  );
  if (result.type === 'fits') return result.fitted.file;
  throw new UserError(
    'too_heavy',
    `Even ${result.settings.width} px wide, with ${result.settings.colors} colours, the file has ${result.bytes} bytes. Give a larger --limit, or a shorter span.`,
  );
}

const KIND_WORDS: Record<FitKind, string> = { sharp: 'sharp', smooth: 'smooth', colour: 'colourful' };

/** How far a way is, 0–1: most end with the third try. */
function tryShare(encodes: number, done: number): number {
  return 1 - 0.6 ** (encodes - 1 + done);
}

function takeFrom({ recipe, files }: MakingTask) {
  return takeOf(recipe, files.map(sourceFile));
}

/** As large, as fast and as fine as the limit and the source allow. */
function bestSettings(task: FitTask): FitSettings {
  const { recipe, limit } = task;
  const take = takeFrom(task);
  const { weigh, framing } = recipe;
  const framed = framedSize(take.size, framing);
  const across = Math.min(framed.width, limit.width, RECIPE_LIMITS.width.max);
  const byHeight = limit.height === null ? across : (limit.height * framed.width) / framed.height;
  const sourceRate = take.times.starts.length / take.times.duration;
  const rate = weigh.frameRate === 'source' ? sourceRate : Math.max(weigh.frameRate, BEST_RATE);
  return {
    width: Math.max(RECIPE_LIMITS.width.min, Math.floor(Math.min(across, byHeight))),
    frameRate: Math.min(RECIPE_LIMITS.frameRate.max, sourceRate, rate, limit.frameRate ?? rate),
    colors: 256,
    ...QUALITIES['near-lossless'],
  };
}

function withSettings(recipe: Recipe, settings: FitSettings): Recipe {
  const { weigh } = recipe;
  const { width, colors, settle, squeeze } = settings;
  // Delays of stills and animations are their own; only footage has a rate to give up.
  const frameRate = weigh.frameRate === 'source' ? weigh.frameRate : settings.frameRate;
  return { ...recipe, weigh: changeWeigh(weigh, { width, frameRate, gif: { colors, settle, squeeze } }) };
}

function tooHeavy(task: FitTask, lightest: FitSettings, bytes: number, seconds: number): UserError {
  const { limit, recipe } = task;
  const kilobytes = (value: number) => `${Math.max(1, Math.round(value / 1000))} KB`;
  const would = Math.floor(((seconds * limit.bytes) / bytes) * 0.9 * 10) / 10;
  const what =
    recipe.sources[0].kind === 'stills' && sourceHashes(recipe).length > 1
      ? 'take pictures out'
      : would >= 0.2
        ? `shorten it to about ${would.toFixed(1)} s`
        : 'take a larger limit';
  return new UserError(
    'too_heavy',
    `Even ${lightest.width} px wide, with ${lightest.colors} colours and ${lightest.frameRate} frames a second, it weighs ${kilobytes(bytes)}; “${limit.name}” takes ${kilobytes(limit.bytes)}. To fit, ${what}.`,
  );
}
