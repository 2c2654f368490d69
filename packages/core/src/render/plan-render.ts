import type { DressSettings } from '../dress/index.js';
import { fileKind } from '../files/index.js';
import { joinOf, type LoopReel, MOST_WOVEN, makeLoop } from '../loop/index.js';
import type { Size } from '../pixels/index.js';
import type { Recipe, Take } from '../recipe/index.js';
import { type MovingLayer, movingLayers, type Plate, type StillSettings } from '../still/index.js';
import type { Reel } from '../timing/index.js';
import type { Weave } from '../weave/index.js';
import { type Composition, composedSize } from './compose.js';

/**
 * Changes whenever the same recipe and sources would give other bytes: kept trials of an older version
 * are then made anew.
 */
export const ENGINE_VERSION = 10;

/** Still settings with a plate, and what moves over it. */
export type HeldStill = StillSettings & { readonly plate: Plate; readonly layers: readonly MovingLayer[] };

/** The recipe's reel, and how each of its pictures becomes a frame. */
export interface RenderPlan {
  readonly take: Take;
  readonly reel: Reel;
  /** When each place of the reel begins, centiseconds of the whole reel. */
  readonly beginsCs: readonly number[];
  readonly size: Size;
  /** What is held; null where the whole picture moves. */
  readonly still: HeldStill | null;
  readonly dress: DressSettings;
  /** What the camera is brought to where nothing is held; null where it is left as it is. */
  readonly steadyTo: SteadyTo | null;
  /** By their names in the reel; what is not there yet is shown as it was filmed. */
  readonly weaves: Weaves;
  /** Whether it is only looked at while a hand moves: colours may then be a few levels off. */
  readonly isDraft: boolean;
  /** How a frame of the take is composed. */
  composition(frame: number): Composition;
}

/** The loop of a recipe: its reel, and what became of what was asked for. */
export function loopOf(recipe: Recipe, take: Pick<Take, 'times'>): LoopReel {
  const [source] = recipe.sources;
  const every = source.kind === 'footage' ? source.every : 1;
  const { frameRate, kind } = recipe.weigh;
  return makeLoop(take.times, recipe.span, frameRate, every, recipe.loop, fileKind(kind).holds.clock);
}

/** What moves over the plate, layer by layer; none where nothing is held. */
export function layersOf(
  { still, loop: { smooth } }: Recipe,
  loop: LoopReel,
  { times }: Pick<Take, 'times'>,
): MovingLayer[] {
  return still.plate ? movingLayers(still.ripples, loop.reel, loop.round, times, smooth) : [];
}

/** Where the camera is taken out of whole frames. */
export interface SteadyTo {
  /** The frame that all others are brought to. */
  readonly frame: number;
  /** Pairs of frames that follow each other, in which it is looked for what moves beside the camera; rising. */
  readonly samples: readonly number[];
}

/** Weaves by what they are called in a reel. */
export type Weaves = Readonly<Record<string, Weave>>;

export interface PlanOptions {
  readonly isDraft?: boolean;
  /** Those that the recipe asks for, as they were made of the same take. */
  readonly weaves?: Weaves;
}

export function planRender(
  recipe: Recipe,
  take: Take,
  { isDraft = false, weaves = {} }: PlanOptions = {},
): RenderPlan {
  const [source] = recipe.sources;
  const { framing, still, dress, weigh } = recipe;
  const loop = loopOf(recipe, take);
  const size = composedSize(take.size, framing, weigh.width);
  return {
    take,
    reel: loop.reel,
    beginsCs: beginsOf(loop.reel),
    size,
    dress,
    steadyTo: still.plate ? null : steadyFrame(recipe, take),
    weaves,
    isDraft,
    still: still.plate ? { ...still, plate: still.plate, layers: layersOf(recipe, loop, take) } : null,
    composition: (frame) => ({
      canvas: take.size,
      placement: take.frame(frame).placement,
      matte: source.kind === 'stills' ? source.matte : 'transparent',
      framing,
      size,
    }),
  };
}

/** So many pairs tell whether a camera moves. */
const SAMPLES = 10;

/** Where the camera is taken out of a reel that is woven as a whole: the middle of what may be shown. */
export function steadyFrame(
  { loop: { join }, span, sources: [source] }: Recipe,
  { times }: Pick<Take, 'times'>,
): SteadyTo | null {
  const woven = joinOf(join).woven?.(join);
  if (!woven?.steady || source.kind !== 'footage') return null;
  const end = Math.min(span.end, span.start + MOST_WOVEN);
  const length = end - span.start;
  const pairs = Math.min(SAMPLES, Math.floor(length / 2));
  const samples = Array.from({ length: pairs }, (_, k) => {
    const first = span.start + Math.floor(((k + 0.5) * (length - 1)) / pairs);
    return [first, first + 1];
  }).flat();
  const middle = span.start + (length >> 1);
  const frame = Math.min(woven.plate ?? middle, times.starts.length - 1);
  return { frame, samples };
}

function beginsOf(reel: Reel): number[] {
  let atCs = 0;
  return reel.map(({ delayCs }) => {
    const begins = atCs;
    atCs += delayCs;
    return begins;
  });
}

/** The plan with only some places of its reel, and of all that goes along with it. */
export function withPlaces(plan: RenderPlan, pick: <Place>(all: readonly Place[]) => Place[]): RenderPlan {
  const { still } = plan;
  return {
    ...plan,
    reel: pick(plan.reel),
    beginsCs: pick(plan.beginsCs),
    still: still && {
      ...still,
      layers: still.layers.map((layer) => ({ ...layer, reel: pick(layer.reel) })),
    },
  };
}
