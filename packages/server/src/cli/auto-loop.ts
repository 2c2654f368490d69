import { UserError } from '@muted-pond/core/errors';
import {
  createSeamField,
  findSeams,
  type LoopLength,
  measureReelSeam,
  seamWindow,
} from '@muted-pond/core/loop';
import { SIGNATURE_BYTES, SIGNATURE_SIZE } from '@muted-pond/core/motion';
import { type Recipe, seenShare, takeOf } from '@muted-pond/core/recipe';
import { loopOf } from '@muted-pond/core/render';
import { resizeMask } from '@muted-pond/core/still';
import { type MakingFile, readMask, sourceFile } from '../making/index.js';
import { readSignatures } from '../media/index.js';

/** Where the loop was found. */
export interface FoundLoop {
  readonly startFrame: number;
  /** Exclusive. */
  readonly endFrame: number;
  /** Of the joint as it is made, 0–100. */
  readonly score: number;
}

/**
 * The recipe with its span on the best seam inside it: the answer that the interface gives too.
 * @param mask a picture in which white moves: only there is a seam looked for.
 */
export async function takeBestLoop(
  recipe: Recipe,
  file: MakingFile,
  length: LoopLength,
  mask: string | null,
): Promise<{ recipe: Recipe; loop: FoundLoop }> {
  const [source] = recipe.sources;
  const { times, size } = takeOf(recipe, [sourceFile(file)]);
  if (source.kind === 'stills' || times.starts.length < 2) {
    throw new UserError('bad_flag', `“${file.name}” does not move; --loop auto needs footage. Leave it out.`);
  }
  const window = seamWindow(times.starts.length, recipe.span);
  const count = window.end - window.start;
  const signatures = new Uint8Array(count * SIGNATURE_BYTES);
  const frames = Array.from({ length: count }, (_, i) => window.start + i);
  for await (const { frame, signature } of readSignatures({ ...file, frames })) {
    signatures.set(signature, (frame - window.start) * SIGNATURE_BYTES);
  }
  const moving = mask ? resizeMask(await readMask(mask), SIGNATURE_SIZE).values : null;
  const field = createSeamField(signatures, { part: seenShare(size, recipe.framing), moving });
  const [best] = findSeams(field, window, times, recipe.span, length);
  if (!best) {
    throw new UserError(
      'bad_flag',
      `No loop of ${length.min} to ${length.max} s lies between ${recipe.span.start} and ${recipe.span.end} (frames). Give another --loop-length or a wider --from and --to.`,
    );
  }
  const found: Recipe = { ...recipe, span: { start: best.start, end: best.end } };
  const { score } = measureReelSeam(field, window.start, loopOf(found, { times }), found.loop);
  return {
    recipe: found,
    loop: { startFrame: best.start, endFrame: best.end, score: Math.round(score * 10) / 10 },
  };
}
