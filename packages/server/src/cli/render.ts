import { randomUUID } from 'node:crypto';
import { readFile, rename, rm, writeFile } from 'node:fs/promises';
import { basename, dirname, join, relative, resolve, sep } from 'node:path';
import { UserError, WENT_WRONG } from '@muted-pond/core/errors';
import { type FileKindId, fileKind, STILL_KIND } from '@muted-pond/core/files';
import { joinOf } from '@muted-pond/core/loop';
import { bestSnippet, fileUrl, type PageFile, pageOf, snippetOf } from '@muted-pond/core/pages';
import {
  changeWeigh,
  newAnimationRecipe,
  newRecipe,
  newStillsRecipe,
  type Recipe,
  readRecipe,
  retarget,
  SETTINGS,
  type Source,
  takeOf,
} from '@muted-pond/core/recipe';
import { idleVeils, loopOf } from '@muted-pond/core/render';
import { nearestBoundary } from '@muted-pond/core/timing';
import { diskFull, isDiskFull } from '../disk-full.js';
import {
  encodeTask,
  fitBelow,
  type MadeFile,
  type MakingFile,
  sourceFile,
  type UnmeasuredFile,
} from '../making/index.js';
import { probeHere } from '../media/index.js';
import { type FoundLoop, takeBestLoop, takeWeave } from './auto-loop.js';
import { checkPaths } from './check-paths.js';
import { dressRecipe } from './dress-recipe.js';
import { fileIdentity } from './file-identity.js';
import { type HeldRecipe, holdStill } from './hold-still.js';
import { isHelp } from './render-command.js';
import { type RenderFlags, readRenderFlags } from './render-flags.js';

/**
 * The same pipeline without the server: `npm run render -- --source FILE --out FILE.gif …`.
 * @returns 0; or 1 after one line on standard error, with nothing written.
 */
export async function render(args: readonly string[]): Promise<number> {
  try {
    await renderFile(readRenderFlags(args));
    return 0;
  } catch (error) {
    if (isHelp(error)) return 0;
    process.stderr.write(`${sentenceOf(error)}\n`);
    return 1;
  }
}

function sentenceOf(error: unknown): string {
  if (error instanceof UserError) return error.message;
  const { code, path } = error as NodeJS.ErrnoException;
  if (code === 'ENOENT') return `“${path}” does not exist. Check the path.`;
  if (code === 'EACCES' || code === 'EPERM' || code === 'EROFS')
    return `“${path}” may not be read or written. Check its permissions.`;
  if (code === 'EISDIR' || code === 'ENOTDIR')
    return `“${path}” is a folder, or lies below a file. Name a file.`;
  if (code === 'ENAMETOOLONG') return `“${path}” is too long for a file name. Name a shorter one.`;
  if (isDiskFull(error)) return diskFull().message;
  if (process.env.MUTED_POND_DEBUG) console.error(error);
  return `${WENT_WRONG} With MUTED_POND_DEBUG=1 before the command, it says what it was.`;
}

async function renderFile(flags: RenderFlags): Promise<void> {
  await checkPaths(flags);
  const files = await openSources(flags.sources);
  const composed = await composeRecipe(flags, files);
  const found = flags.autoLoop
    ? await takeBestLoop(composed, files[0], flags.autoLoop, flags.mask, flags.joins)
    : { recipe: composed, loop: undefined };
  const dressed = await dressRecipe(flags.dress, found.recipe, files);
  try {
    for (const note of dressed.notes) process.stderr.write(`${note}\n`);
    const held = await holdStill(flags, dressed.recipe, files);
    try {
      const layers = [...held.layers, ...dressed.layers];
      const { recipe, loop } = await takeWeave(
        { files, layers, recipe: held.recipe },
        flags,
        composed.span,
        found.loop,
      );
      for (const { name, keys, span } of idleVeils(recipe, takeOf(recipe, files.map(sourceFile)))) {
        const [{ frame }] = keys;
        const frames = span ? `frames ${span.start} to ${span.end - 1}` : `frame ${frame} on`;
        process.stderr.write(
          `Warning: “${name}” (--veil, ${frames}) hides nothing: it lies on no frame of this loop, or beside what is seen of it.\n`,
        );
      }
      await writeFiles({ ...held, recipe, layers }, files, flags, loop);
    } finally {
      await held.cleanUp();
    }
  } finally {
    await dressed.cleanUp();
  }
}

interface MadeOut {
  readonly path: string;
  readonly kind: FileKindId;
  readonly file: UnmeasuredFile;
}

/** All files that were asked for are made before the first is written. */
async function writeFiles(
  held: HeldRecipe,
  files: readonly MakingFile[],
  flags: RenderFlags,
  loop: FoundLoop | undefined,
): Promise<void> {
  const made: MadeOut[] = [];
  for (const { path, kind } of flags.outs) {
    made.push({ path, kind, file: await makeHeld(ofKind(held, kind), files, flags) });
  }
  const poster = flags.poster === null ? null : await makePoster(held, files);
  const page = flags.snippet && pageFor(flags, made, flags.snippet, held.recipe.plays);
  for (const { path, file } of made) await writeWhole(path, file.bytes);
  if (poster && flags.poster) await writeWhole(flags.poster, poster.bytes);
  if (flags.snippet && page) await writeWhole(flags.snippet, Buffer.from(page));
  if (flags.report) {
    const reports = [];
    for (const { path, file } of made) reports.push({ out: path, ...reportOf(await file.finish(), loop) });
    const [{ out: _, ...first }] = reports;
    const report = reports.length === 1 ? first : { ...first, files: reports };
    await writeWhole(flags.report, Buffer.from(`${JSON.stringify(report, null, 2)}\n`));
  }
}

function ofKind({ recipe, ...held }: HeldRecipe, kind: FileKindId): HeldRecipe {
  return { ...held, recipe: { ...recipe, weigh: changeWeigh(recipe.weigh, { kind }) } };
}

function reportOf({ figures }: MadeFile, loop: FoundLoop | undefined) {
  const { steady, frames, width, height, durationMs, bytes, colors, likeness, ms } = figures;
  const measured = steady ? { beforePx: steady.beforePx, afterPx: steady.afterPx } : undefined;
  const counted = colors ?? undefined;
  return { frames, width, height, durationMs, bytes, colors: counted, likeness, loop, steady: measured, ms };
}

/** A page that shows the files from where it lies. */
function pageFor(flags: RenderFlags, made: readonly MadeOut[], page: string, plays: number): string {
  const here = dirname(resolve(page));
  const url = (path: string) => fileUrl(relative(here, resolve(path)).split(sep).join('/'));
  const files = made.map(({ path, kind, file }): PageFile => {
    const { bytes, size } = file;
    return { kind, url: url(path), mime: fileKind(kind).mime, ...size, bytes: bytes.length };
  });
  const way = bestSnippet(files);
  if (!way) {
    throw new UserError(
      'bad_flag',
      `--snippet “${page}”: a page cannot show a ZIP of frames. Name a file that it can show with --out.`,
    );
  }
  const about = basename(made[0].path).replace(/\.[^.]*$/, '');
  const still = flags.poster === null ? null : url(flags.poster);
  return pageOf({ title: about, body: snippetOf(way, { files, still, about, plays }) });
}

/** The files as named on the command line. */
async function openSources(paths: readonly string[]): Promise<MakingFile[]> {
  const files: MakingFile[] = [];
  for (const path of paths) {
    const name = basename(path);
    const hash = await fileIdentity(path);
    files.push({ hash, path, name, facts: await probeHere(path, name) });
  }
  const moving = files.find((file) => file.facts.kind !== 'picture');
  if (moving && files.length > 1) {
    throw new UserError(
      'bad_flag',
      `“${moving.name}” is not a picture; only pictures can be given several at a time. Give it alone.`,
    );
  }
  return files;
}

/** The given recipe or a new one, with the flags laid over it. */
async function composeRecipe(flags: RenderFlags, files: readonly MakingFile[]): Promise<Recipe> {
  const base = layShape(
    flags,
    flags.recipe ? await readRecipeFile(flags.recipe, files) : newRecipeOver(files),
  );
  const { times, size } = takeOf(base, files.map(sourceFile));
  const start = flags.from === null ? base.span.start : nearestBoundary(times, flags.from);
  const end = flags.to === null ? base.span.end : nearestBoundary(times, flags.to);
  if (end <= start) {
    throw new UserError(
      'bad_flag',
      `From ${flags.from ?? 0} s to ${flags.to ?? times.duration} s holds no frame; the footage lasts ${times.duration.toFixed(2)} s.`,
    );
  }
  const crop = flags.crop ?? base.framing.crop;
  if (crop && (crop.x + crop.width > size.width || crop.y + crop.height > size.height)) {
    throw new UserError(
      'bad_flag',
      `--crop ${crop.x},${crop.y},${crop.width},${crop.height} leaves the picture, which is ${size.width} × ${size.height} px. Give a smaller one.`,
    );
  }
  return {
    ...base,
    span: { start, end: Math.min(end, times.starts.length) },
    framing: { ...base.framing, crop },
    plays: flags.plays ?? base.plays,
    loop: {
      ...base.loop,
      speed: flags.speed ?? base.loop.speed,
      smooth: flags.smooth || base.loop.smooth,
      reverse: flags.reverse || base.loop.reverse,
      join: flags.join ?? base.loop.join,
    },
    weigh: changeWeigh(base.weigh, flags.weigh),
  };
}

async function makeHeld(
  { recipe, layers }: HeldRecipe,
  files: readonly MakingFile[],
  { limit, report }: RenderFlags,
): Promise<UnmeasuredFile> {
  checkJoin(recipe, files);
  const task = { files, layers, recipe };
  return limit === null ? encodeTask(task, { measures: report !== null }) : fitBelow(task, limit);
}

function makePoster({ recipe, layers }: HeldRecipe, files: readonly MakingFile[]): Promise<UnmeasuredFile> {
  const weigh = changeWeigh(recipe.weigh, { kind: STILL_KIND });
  return encodeTask({ files, layers, recipe: { ...recipe, weigh } }, { measures: false });
}

/** The interface offers the longest that a join can be; here it is said instead. */
function checkJoin(recipe: Recipe, files: readonly MakingFile[]): void {
  const { join, reverse } = recipe.loop;
  const closing = joinOf(join);
  const missing = closing.missing?.(join, recipe.span) ?? 0;
  if (missing > 0) {
    throw new UserError(
      'bad_flag',
      `The loop of this recipe, ${closing.words(join)}, needs ${missing} frames more than the span has. Give a wider --from and --to, or another --join.`,
    );
  }
  const frames = closing.framesOf(join);
  const longest = loopOf(recipe, takeOf(recipe, files.map(sourceFile))).longest[join.kind];
  if (frames > longest) {
    throw new UserError(
      'bad_flag',
      `${capital(closing.words(join))} needs as many ${closing.room ?? (reverse ? 'after the end' : 'before the start')}; ${longest} are there. Give --join ${join.kind}:${longest} or move --${reverse ? 'to' : 'from'}.`,
    );
  }
}

function capital(words: string): string {
  return words.charAt(0).toUpperCase() + words.slice(1);
}

/** All of what was given. */
function newRecipeOver(files: readonly MakingFile[]): Recipe {
  const sources = files.map(sourceFile);
  const [{ facts }] = files;
  const [{ hash, times }] = sources;
  if (facts.kind === 'picture') return newStillsRecipe(sources);
  if (facts.kind === 'animation') return newAnimationRecipe(hash, times, facts.plays);
  return { ...newRecipe(hash, times), span: { start: 0, end: times.starts.length } };
}

/** Width and height together are a frame of exactly that size: the canvas of stills, the box of footage. */
function layShape({ height, fit, weigh }: RenderFlags, recipe: Recipe): Recipe {
  const [source] = recipe.sources;
  const size = height === null ? null : { width: weigh.width ?? recipe.weigh.width, height };
  if (source.kind === 'stills') {
    const laid = { ...source, canvas: size ?? source.canvas, fit: fit ?? source.fit };
    return { ...recipe, sources: [laid] };
  }
  if (!size) return recipe;
  const box = { ...size, fit: fit ?? 'contain', matte: '#000000' as const };
  return { ...recipe, framing: { ...recipe.framing, box } };
}

async function readRecipeFile(path: string, files: readonly MakingFile[]): Promise<Recipe> {
  let stored: unknown;
  try {
    stored = JSON.parse(await readFile(path, 'utf8'));
  } catch (error) {
    if (error instanceof SyntaxError)
      throw new UserError('bad_flag', `“${path}” is not JSON: ${error.message}`);
    throw error;
  }
  const reading = readRecipe(stored);
  if (reading.type === 'error') throw new UserError('bad_flag', `“${path}”: ${reading.message}`);
  const { recipe } = reading;
  const sources = [overFiles(recipe.sources[0], path, files)];
  // Which file the recipe was made over is not known: its frames and places are counted in the one that was
  // given.
  const laid = retarget(
    { recipe, files: null },
    { recipe: { ...recipe, sources }, files: files.map(sourceFile) },
    SETTINGS.filter((part) => part !== 'still'),
  );
  for (const { words } of laid.notes) process.stderr.write(`${words}\n`);
  return laid.recipe;
}

/** The files are named on the command line; the recipe's own names for them are not looked at. */
function overFiles(source: Source, path: string, files: readonly MakingFile[]): Source {
  if (source.kind === 'footage') return { ...source, hash: files[0].hash };
  if (source.pictures.length !== files.length) {
    throw new UserError(
      'bad_flag',
      `“${path}” is made from ${source.pictures.length} pictures; ${files.length} were given. Give them all, in their order.`,
    );
  }
  return { ...source, pictures: source.pictures.map((picture, i) => ({ ...picture, hash: files[i].hash })) };
}

/** Written beside its place and then renamed: never half there. */
async function writeWhole(path: string, bytes: Uint8Array): Promise<void> {
  const half = join(dirname(path), `.${randomUUID()}.half`);
  try {
    await writeFile(half, bytes);
    await rename(half, path);
  } catch (error) {
    await rm(half, { force: true });
    // Nobody knows the name that it has on the way.
    throw Object.assign(error as NodeJS.ErrnoException, { path });
  }
}
