import { readFile, rename, rm, stat, writeFile } from 'node:fs/promises';
import { basename } from 'node:path';
import { newRecipe, type Recipe, readRecipe } from '@muted-pond/core/recipe';
import { type FrameTimes, nearestBoundary } from '@muted-pond/core/timing';
import { makeGif } from '../making/index.js';
import { frameTimes, MediaError, probeVideo, type VideoFacts } from '../media/index.js';
import { type RenderFlags, RenderRefusal, readRenderFlags } from './render-flags.js';

/**
 * The same pipeline without the server: `npm run render -- --source FILE --out FILE.gif …`.
 * @param probing what is known of the source, if someone has begun to look at it already.
 * @returns 0; or 1 after one line on standard error, with nothing written.
 */
export async function render(
  args: readonly string[],
  probing: Promise<VideoFacts> | null = null,
): Promise<number> {
  try {
    await renderFile(readRenderFlags(args), probing);
    return 0;
  } catch (error) {
    process.stderr.write(`${sentenceOf(error)}\n`);
    return 1;
  }
}

function sentenceOf(error: unknown): string {
  if (error instanceof RenderRefusal || error instanceof MediaError || error instanceof RangeError) {
    return error.message;
  }
  const { code, path } = error as NodeJS.ErrnoException;
  if (code === 'ENOENT') return `“${path}” does not exist. Check the path.`;
  if (code === 'EACCES') return `“${path}” may not be read or written. Check its permissions.`;
  if (code === 'ENOSPC') return 'The disk is full. Free some space and try again.';
  return `It could not be made: ${error instanceof Error ? error.message : error}`;
}

async function renderFile(flags: RenderFlags, probing: Promise<VideoFacts> | null): Promise<void> {
  const name = basename(flags.source);
  await stat(flags.source);
  const facts = await (probing ?? probeVideo(flags.source, name));
  const recipe = await composeRecipe(flags, frameTimes(facts));
  const made = await makeGif({ path: flags.source, name, facts, recipe }, { measure: flags.report !== null });
  await writeWhole(flags.out, made.bytes);
  if (flags.report) {
    const { frames, width, height, durationMs, bytes, colors, likeness, ms } = made.figures;
    const report = { frames, width, height, durationMs, bytes, colors, likeness, ms };
    await writeWhole(flags.report, Buffer.from(`${JSON.stringify(report, null, 2)}\n`));
  }
}

/** The file is named on the command line; the recipe's own name for it is not looked at. */
const NO_HASH = '0'.repeat(64);

/** The given recipe or a new one, with the flags laid over it. */
async function composeRecipe(flags: RenderFlags, times: FrameTimes): Promise<Recipe> {
  const base = flags.recipe
    ? await readRecipeFile(flags.recipe)
    : { ...newRecipe(NO_HASH, times), span: { start: 0, end: times.starts.length } };
  const start = flags.from === null ? base.span.start : nearestBoundary(times, flags.from);
  const end = flags.to === null ? base.span.end : nearestBoundary(times, flags.to);
  if (end <= start) {
    throw new RenderRefusal(
      `From ${flags.from ?? 0} s to ${flags.to ?? times.duration} s holds no frame; the footage lasts ${times.duration.toFixed(2)} s.`,
    );
  }
  return {
    ...base,
    span: { start, end: Math.min(end, times.starts.length) },
    plays: flags.plays ?? base.plays,
    weigh: { ...base.weigh, ...flags.weigh },
  };
}

async function readRecipeFile(path: string): Promise<Recipe> {
  let stored: unknown;
  try {
    stored = JSON.parse(await readFile(path, 'utf8'));
  } catch (error) {
    if (error instanceof SyntaxError) throw new RenderRefusal(`“${path}” is not JSON: ${error.message}`);
    throw error;
  }
  const reading = readRecipe(stored);
  if (reading.type === 'error') throw new RenderRefusal(`“${path}”: ${reading.message}`);
  return reading.recipe;
}

/** Written beside its place and then renamed: never half there. */
async function writeWhole(path: string, bytes: Uint8Array): Promise<void> {
  const half = `${path}.half`;
  try {
    await writeFile(half, bytes);
    await rename(half, path);
  } catch (error) {
    await rm(half, { force: true });
    throw error;
  }
}
