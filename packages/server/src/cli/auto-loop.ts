import { UserError } from '@muted-pond/core/errors';
import {
  adviseJoin,
  createSeamField,
  findFlowLength,
  findFlowPlaces,
  findSeams,
  framesMissing,
  isUnnoticed,
  type JoinKind,
  joinOf,
  type LoopLength,
  type LoopReel,
  lookBytes,
  lookSize,
  lookWeights,
  measureReelSeam,
  proposedScore,
  rescored,
  type SeamCandidate,
  seamAt,
  seamWindow,
} from '@muted-pond/core/loop';
import { findCuts, SIGNATURE_BYTES, SIGNATURE_SIZE, signaturesIn } from '@muted-pond/core/motion';
import { type Recipe, seenShare, takeOf } from '@muted-pond/core/recipe';
import { loopOf } from '@muted-pond/core/render';
import { resizeMask } from '@muted-pond/core/still';
import type { Span } from '@muted-pond/core/timing';
import { GOOD_WEAVE } from '@muted-pond/core/weave';
import {
  adviseWeave,
  type MakingFile,
  type MakingTask,
  openMeasuredTake,
  readMask,
  sourceFile,
} from '../making/index.js';
import { readSmall } from '../media/index.js';
import type { RenderFlags } from './render-flags.js';

/** Places, of those whose cuts are seen least, at which each join is tried. */
const ADVISED_PLACES = 3;

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
 * @param joins how it may be closed; null: as the recipe says.
 */
export async function takeBestLoop(
  recipe: Recipe,
  file: MakingFile,
  length: LoopLength,
  mask: string | null,
  joins: readonly JoinKind[] | null,
): Promise<{ recipe: Recipe; loop: FoundLoop }> {
  const [source] = recipe.sources;
  const { times, size } = takeOf(recipe, [sourceFile(file)]);
  if (source.kind === 'stills' || times.starts.length < 2) {
    throw new UserError('bad_flag', `“${file.name}” does not move; --loop auto needs footage. Leave it out.`);
  }
  const window = seamWindow(times.starts.length, recipe.span);
  const count = window.end - window.start;
  const signatures = new Uint8Array(count * SIGNATURE_BYTES);
  const bytes = lookBytes(lookSize(file.facts));
  const looks = new Uint8Array(count * bytes);
  const frames = Array.from({ length: count }, (_, i) => window.start + i);
  for await (const { frame, signature, look } of readSmall({ ...file, frames })) {
    signatures.set(signature, (frame - window.start) * SIGNATURE_BYTES);
    looks.set(look(), (frame - window.start) * bytes);
  }
  const moving = mask ? resizeMask(await readMask(mask), SIGNATURE_SIZE) : null;
  const part = seenShare(size, recipe.framing);
  const field = createSeamField(signatures, { part, moving: moving?.values ?? null });
  const cuts = findCuts(signaturesIn(signatures)).map((cut) => cut + window.start);
  const candidates = findSeams(field, window, times, recipe.span, length, cuts);
  if (candidates.length === 0) {
    throw new UserError(
      'bad_flag',
      `No loop of ${length.min} to ${length.max} s lies between ${recipe.span.start} and ${recipe.span.end} (frames)${cuts.length > 0 ? ' within one scene' : ''}. Give another --loop-length or a wider --from and --to.`,
    );
  }
  const take = openMeasuredTake(file, cuts, { span: window, looks });
  const weights = lookWeights(lookSize(file.facts), part, moving);
  const scoreOf = async (loop: LoopReel) => proposedScore(await measureReelSeam(take, loop, weights));
  const closed = (span: Span): Recipe => ({ ...recipe, span });
  // Places are found by how alike their frames are, and chosen by how their joint is seen.
  const measured: SeamCandidate[] = [];
  for (const candidate of candidates) {
    measured.push(rescored(candidate, await scoreOf(loopOf(closed(spanOf(candidate)), { times }))));
  }
  measured.sort((one, other) => other.rank - one.rank);
  const isLed = joins?.some((kind) => joinOf({ kind }).isLed) && !isUnnoticed(measured[0].score);
  // What flows well need not look alike.
  const flowing = isLed
    ? await findFlowPlaces(take, times, {
        ...{ window, within: recipe.span, length, every: source.every, weights },
      })
    : [];
  const places = [
    ...measured.slice(0, joins ? ADVISED_PLACES : 1),
    ...flowing.slice(0, ADVISED_PLACES).map((span) => seamAt(field, window, span)),
  ];
  let best: { recipe: Recipe; score: number } | null = null;
  for (const candidate of places) {
    const span = spanOf(candidate);
    const pace = { times, span, rate: recipe.weigh.frameRate, every: source.every, cuts };
    const flowLength = (cut: LoopReel, longest: number) => findFlowLength(take, times, span, cut, longest);
    const advised = joins && (await adviseJoin(pace, recipe.loop, { scoreOf, flowLength }, joins));
    const found = advised ? { ...closed(span), loop: { ...recipe.loop, join: advised.join } } : closed(span);
    const { score } = advised ?? candidate;
    if (!best || score > best.score) best = { recipe: found, score };
    if (isUnnoticed(best.score)) break;
  }
  const { recipe: found, score } = best as NonNullable<typeof best>;
  const { start, end } = found.span;
  return {
    recipe: found,
    loop: { startFrame: start, endFrame: end, score: Math.round(score * 10) / 10 },
  };
}

function spanOf({ start, end }: SeamCandidate): Span {
  return { start, end };
}

/**
 * The recipe woven over its best common length, where that was asked for, or where it may be and nothing else
 * closes the loop unnoticed.
 * @param loop as it was found without; undefined where none was looked for.
 * @param within all that may be shown.
 */
export async function takeWeave(
  task: MakingTask,
  { join: asked, joins, wovenLength }: Pick<RenderFlags, 'join' | 'joins' | 'wovenLength'>,
  within: Recipe['span'],
  loop: FoundLoop | undefined,
): Promise<{ recipe: Recipe; loop: FoundLoop | undefined }> {
  const { recipe } = task;
  // A recipe that is woven already says over which length, and what was held by hand.
  const woven = asked && joinOf(asked).woven?.(asked);
  const isAllowed = joins?.some((kind) => joinOf({ kind }).woven) && loop && !isUnnoticed(loop.score);
  if (!woven && !isAllowed) return { recipe, loop };
  const advice = await adviseWeave({
    ...task,
    recipe: { ...recipe, span: within },
    length: wovenLength,
    within: 'span',
  });
  if (!advice) {
    if (!woven) return { recipe, loop };
    const frames = within.end - within.start;
    throw new UserError(
      'bad_flag',
      `--join woven needs ${framesMissing({ start: 0, end: 0 }, 0)} frames more than its round; between --from and --to lie ${frames}, and a round lasts from ${wovenLength.min} to ${wovenLength.max} s. Give a wider --from and --to or another --loop-length.`,
    );
  }
  if (!woven && advice.energy >= GOOD_WEAVE) return { recipe, loop };
  const join = woven ? { ...advice.join, liveliness: woven.liveliness } : advice.join;
  return {
    recipe: { ...recipe, span: advice.span, loop: { ...recipe.loop, join } },
    loop: {
      startFrame: advice.span.start,
      endFrame: advice.span.start + join.frames,
      score: Math.round(advice.score * 10) / 10,
    },
  };
}
