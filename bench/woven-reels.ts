import {
  adviseJoin,
  createSeamField,
  type JoinKind,
  type JoinSettings,
  measureReelSeam,
  PLAIN_LOOP,
  proposedScore,
  searchSeams,
  WOVEN_ROOM,
  type Woven,
} from '@muted-pond/core/loop';
import { SIGNATURE_BYTES, SIGNATURE_SIZE, writeSignature } from '@muted-pond/core/motion';
import { createResizer, mixFrames, type PixelFrame } from '@muted-pond/core/pixels';
import { newRecipe, type Recipe, type SourceFile, takeOf } from '@muted-pond/core/recipe';
import {
  type FrameSource,
  type LookedAtTake,
  lookAtTake,
  NOTHING_KEPT,
  planRender,
  planWeaving,
  type RenderPlan,
  startSteps,
  type WeaveWish,
  type WovenPart,
  wishedWeaves,
  wovenPart,
} from '@muted-pond/core/render';
import {
  cellFrames,
  createPlanes,
  type JointFigures,
  jointFigures,
  putFrame,
  STILL,
} from '@muted-pond/core/weave';
import { measuredFrames } from './looks.js';

/** A take, steadied and evened as a woven recipe has it done, and looked at cell by cell. */
export interface BenchTake {
  readonly frames: readonly PixelFrame[];
  readonly recipe: Recipe;
  readonly plan: RenderPlan;
  readonly source: FrameSource;
  readonly looked: LookedAtTake;
  readonly ms: { readonly look: number };
}

const HASH = 'a'.repeat(64);

/** @param raw as it was filmed. */
export async function openBenchTake(raw: readonly PixelFrame[], framesPerSecond = 25): Promise<BenchTake> {
  const [{ width, height }] = raw;
  const times = { starts: raw.map((_, i) => i / framesPerSecond), duration: raw.length / framesPerSecond };
  const file: SourceFile = { hash: HASH, size: { width, height }, times };
  const source: FrameSource = {
    ...NOTHING_KEPT,
    sizeOf: () => ({ width, height }),
    async *read(_, wanted) {
      for (const frame of wanted) yield { frame, picture: raw[frame] };
    },
  };
  const base = newRecipe(HASH, times);
  const recipe: Recipe = {
    ...base,
    span: { start: 0, end: raw.length },
    loop: { ...PLAIN_LOOP, join: woven(WOVEN_ROOM) },
    weigh: { ...base.weigh, width, frameRate: 'source' },
  };
  const take = takeOf(recipe, [file]);
  const plan = planWeaving(recipe, take, recipe.span);
  const [wish] = wishedWeaves(recipe);
  const from = performance.now();
  const looked = await lookAtTake(plan, wish, source);
  const look = performance.now() - from;
  const run = await startSteps(plan, source);
  await run.read(raw.map((_, i) => i));
  return {
    ...{ recipe, plan, source, looked, ms: { look } },
    frames: raw.map((_, place) => run.show(place, true)),
  };
}

function woven(frames: number, liveliness = 16): Woven {
  return { kind: 'per-pixel', frames, liveliness, plate: null, steady: true, touches: [] };
}

/** A reel, and how it runs. */
export interface MeasuredReel {
  readonly words: string;
  readonly frames: readonly PixelFrame[];
  readonly joint: JointFigures;
  /** How much of its sharpness a mixture keeps: of 95 % of blocks and times, none keeps less. */
  readonly sharp: number;
  readonly part?: WovenPart;
}

export async function wovenReel(take: BenchTake, length: number, liveliness = 16): Promise<MeasuredReel> {
  const { looked, plan, source } = take;
  const recipe = { ...take.recipe, loop: { ...take.recipe.loop, join: woven(length, liveliness) } };
  const [wish] = wishedWeaves(recipe) as [WeaveWish];
  const part = wovenPart(looked, plan, wish, 'bench');
  const made = planRender(recipe, plan.take, { weaves: { reel: part.weave } });
  const run = await startSteps(made, source);
  await run.read(take.frames.map((_, i) => i));
  const frames = made.reel.map((_, place) => run.show(place, true));
  const { weave } = part;
  const kept = frames.map((frame, place) =>
    sharpness(
      frame,
      (cell) => {
        if (weave.starts[cell] === STILL) return [[looked.take.plateFrame, 1]];
        const { frame: one, other, share } = cellFrames(weave, cell, place);
        return share === 0
          ? [[one, 1]]
          : [
              [one, 1 - share],
              [other, share],
            ];
      },
      take,
    ),
  );
  return {
    words: `woven, ${Math.round(100 * part.moving)} % moves`,
    frames,
    joint: figures(take, frames),
    sharp: lowest(kept.flat()),
    part,
  };
}

/** The joint that the product would advise for a length: where it starts, and over how many frames it melts. */
export async function advisedReel(
  take: BenchTake,
  length: number,
  kinds: readonly JoinKind[] = ['cut', 'crossfade'],
): Promise<MeasuredReel> {
  const { frames, plan } = take;
  const field = createSeamField(signaturesOf(frames));
  const most = frames.length;
  const seams = searchSeams(field, { from: 0, to: most, shortest: length, longest: length, most: 20 });
  const best = seams.filter(({ start }) => start >= 12)[0] ?? seams[0];
  const { times } = plan.take;
  const measured = measuredFrames(frames);
  const advice = await adviseJoin(
    { times, span: { start: best.start, end: best.end }, rate: 'source', every: 1, cuts: [] },
    PLAIN_LOOP,
    { scoreOf: async (loop) => proposedScore(await measureReelSeam(measured, loop)), flowLength: () => null },
    kinds,
  );
  return crossfaded(take, best.start, length, framesOf(advice.join));
}

function framesOf(join: JoinSettings): number {
  return join.kind === 'crossfade' ? join.frames : 0;
}

export function crossfaded(take: BenchTake, start: number, length: number, melt: number): MeasuredReel {
  const shares = Array.from({ length }, (_, t) =>
    t >= length - melt && start + t - length >= 0 ? (t - (length - melt) + 1) / (melt + 1) : 0,
  );
  const frames = shares.map((share, t) =>
    share === 0
      ? take.frames[start + t]
      : mixFrames([take.frames[start + t], take.frames[start + t - length]], [1 - share, share]),
  );
  const kept = frames.map((frame, t) =>
    sharpness(
      frame,
      () => [
        [start + t, 1 - shares[t]],
        ...(shares[t] > 0 ? [[start + t - length, shares[t]] as const] : []),
      ],
      take,
    ),
  );
  return {
    words: melt === 0 ? 'cut' : `crossfade over ${melt}`,
    frames,
    joint: figures(take, frames),
    sharp: lowest(kept.flat()),
  };
}

function figures(take: BenchTake, frames: readonly PixelFrame[]) {
  const planes = createPlanes(frames[0], frames.length);
  for (const [i, frame] of frames.entries()) putFrame(planes, i, frame);
  return jointFigures(take.looked.take, planes);
}

function signaturesOf(frames: readonly PixelFrame[]): Uint8Array {
  const resize = createResizer(frames[0], SIGNATURE_SIZE);
  const signatures = new Uint8Array(frames.length * SIGNATURE_BYTES);
  for (const [i, frame] of frames.entries()) {
    writeSignature(
      resize.resize(frame).rgba,
      signatures.subarray(i * SIGNATURE_BYTES, (i + 1) * SIGNATURE_BYTES),
    );
  }
  return signatures;
}

const lowest = (values: number[]): number =>
  [...values].sort((a, b) => a - b)[Math.floor(0.05 * values.length)] ?? 1;

/** Least variance of the Laplacian, squared levels: smoother blocks have no sharpness to lose. */
const LEAST_DETAIL = 12;
const BLOCK = 16;

/** Variance of the Laplacian of every living block that is mixed, against those of the frames it is mixed of. */
function sharpness(
  frame: PixelFrame,
  made: (cell: number) => readonly (readonly [frame: number, share: number])[],
  take: BenchTake,
): number[] {
  const { grid, statistics } = take.looked.take;
  const kept: number[] = [];
  for (let y = 0; y + BLOCK <= frame.height; y += BLOCK) {
    for (let x = 0; x + BLOCK <= frame.width; x += BLOCK) {
      const cell = Math.floor(y / grid.cell) * grid.cols + Math.floor(x / grid.cell);
      if (statistics.alive[cell] < 0.25) continue;
      const of = made(cell);
      const whole = of.reduce((sum, [source, share]) => sum + share * detail(take.frames[source], x, y), 0);
      if (whole < LEAST_DETAIL) continue;
      kept.push(Math.min(1, detail(frame, x, y) / whole));
    }
  }
  return kept;
}

const details = new WeakMap<PixelFrame, Map<number, number>>();

function detail(frame: PixelFrame, x0: number, y0: number): number {
  const known = details.get(frame) ?? new Map<number, number>();
  details.set(frame, known);
  const key = y0 * frame.width + x0;
  const there = known.get(key);
  if (there !== undefined) return there;
  const luma = (x: number, y: number) => {
    const i =
      (Math.min(frame.height - 1, Math.max(0, y)) * frame.width + Math.min(frame.width - 1, Math.max(0, x))) *
      4;
    return 0.299 * frame.rgba[i] + 0.587 * frame.rgba[i + 1] + 0.114 * frame.rgba[i + 2];
  };
  let [sum, squares] = [0, 0];
  for (let y = y0; y < y0 + BLOCK; y++) {
    for (let x = x0; x < x0 + BLOCK; x++) {
      const value = 4 * luma(x, y) - luma(x - 1, y) - luma(x + 1, y) - luma(x, y - 1) - luma(x, y + 1);
      sum += value;
      squares += value * value;
    }
  }
  const count = BLOCK * BLOCK;
  const made = squares / count - (sum / count) ** 2;
  known.set(key, made);
  return made;
}
