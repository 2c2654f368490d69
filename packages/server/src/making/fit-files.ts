import type { LimitValues } from '@muted-pond/core/api';
import { UserError } from '@muted-pond/core/errors';
import { FILE_KINDS, type FileKindId, fileKind, type KindFit } from '@muted-pond/core/files';
import {
  changeWeigh,
  framedSize,
  RECIPE_LIMITS,
  type Recipe,
  sourceHashes,
  takeOf,
} from '@muted-pond/core/recipe';
import { loopOf } from '@muted-pond/core/render';
import { fastestRate, reelCentiseconds } from '@muted-pond/core/timing';
import { FIT_KINDS, type FitKind, type FitResult, type FitSettings, fitUnder } from '@muted-pond/core/weigh';
import { encodeTask, type MadeFile, type MakingProgress, type UnmeasuredFile } from './make-file.js';
import { sourceFile } from './making-file.js';
import type { MakingTask } from './making-task.js';

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
  const fit = fitOf(recipe.weigh.kind);
  const best = bestSettings(task, fit);
  const files: FittedFile[] = [];
  for (const [turn, kind] of FIT_KINDS.entries()) {
    let encodes = 0;
    const result: FitResult<{ made: UnmeasuredFile; recipe: Recipe }> = await fitUnder(
      fit.model,
      kind,
      best,
      limit.bytes,
      async (settings) => {
        const next = withSettings(recipe, settings);
        const doing = `looking for the ${KIND_WORDS[kind]} file, try ${++encodes}`;
        const made = await encodeTask(
          { ...task, recipe: next },
          { onProgress: ({ done }) => onProgress({ doing, done: (turn + tryShare(encodes, done)) / 3 }) },
        );
        return { file: { made, recipe: next }, bytes: made.bytes.length };
      },
    );
    if (result.type === 'too-heavy') {
      if (kind !== FIT_KINDS[FIT_KINDS.length - 1]) continue;
      if (files.length > 0) break;
      throw tooHeavy(task, fit, result.settings, result.bytes, seconds);
    }
    const { file, settings } = result.fitted;
    files.push({ kind, recipe: file.recipe, made: await file.made.finish(), encodes: result.fitted.encodes });
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
  const fit = fitOf(weigh.kind);
  const frameRate = weigh.frameRate === 'source' ? RECIPE_LIMITS.frameRate.max : weigh.frameRate;
  const result = await fitUnder(
    fit.model,
    'sharp',
    { ...fit.valuesOf(weigh[weigh.kind]), width: weigh.width, frameRate },
    bytes,
    async (settings) => {
      const file = await encodeTask({ ...task, recipe: withSettings(task.recipe, settings) });
      return { file, bytes: file.bytes.length };
    },
  );
  if (result.type === 'fits') return result.fitted.file;
  throw new UserError(
    'too_heavy',
    `Even ${result.settings.width} px wide, ${lightestWords(weigh.kind, fit, result.settings)}, the file has ${result.bytes} bytes. Give a larger --limit, or a shorter span.`,
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

/** A kind's way to become lighter, whichever it is. @throws UserError for kinds that have none. */
function fitOf(kind: FileKindId): KindFit<object> {
  const { fit, name } = fileKind(kind);
  if (fit) return fit;
  throw new UserError(
    'kind_cannot_hold',
    `${name} has no settings that make it lighter. Choose another kind of file, or leave the limit out.`,
  );
}

/** As large, as fast and as fine as the limit, the kind and the source allow. */
function bestSettings(task: FitTask, fit: KindFit<object>): FitSettings {
  const { recipe, limit } = task;
  const take = takeFrom(task);
  const { weigh, framing } = recipe;
  const framed = framedSize(take.size, framing);
  const across = Math.min(framed.width, limit.width, RECIPE_LIMITS.width.max);
  const byHeight = limit.height === null ? across : (limit.height * framed.width) / framed.height;
  const sourceRate = take.times.starts.length / take.times.duration;
  const rate = weigh.frameRate === 'source' ? sourceRate : Math.max(weigh.frameRate, BEST_RATE);
  const fastest = fastestRate(FILE_KINDS[weigh.kind].holds.clock);
  return {
    ...fit.model.best,
    width: Math.max(RECIPE_LIMITS.width.min, Math.floor(Math.min(across, byHeight))),
    frameRate: Math.min(RECIPE_LIMITS.frameRate.max, fastest, sourceRate, rate, limit.frameRate ?? rate),
  };
}

function withSettings(recipe: Recipe, settings: FitSettings): Recipe {
  const { weigh } = recipe;
  const { width } = settings;
  // Delays of stills and animations are their own; only footage has a rate to give up.
  const frameRate = weigh.frameRate === 'source' ? weigh.frameRate : settings.frameRate;
  const own = { [weigh.kind]: fitOf(weigh.kind).settingsOf(settings) };
  return { ...recipe, weigh: changeWeigh(weigh, { width, frameRate, ...own }) };
}

/** What only the kind itself has been told, in words. */
function lightestWords(kind: FileKindId, fit: KindFit<object>, settings: FitSettings): string {
  return fileKind(kind).words({ ...fileKind(kind).settings.defaults, ...fit.settingsOf(settings) });
}

function tooHeavy(
  task: FitTask,
  fit: KindFit<object>,
  lightest: FitSettings,
  bytes: number,
  seconds: number,
): UserError {
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
    `Even ${lightest.width} px wide, ${lightestWords(recipe.weigh.kind, fit, lightest)} and ${lightest.frameRate} frames a second, it weighs ${kilobytes(bytes)}; “${limit.name}” takes ${kilobytes(limit.bytes)}. To fit, ${what}.`,
  );
}
