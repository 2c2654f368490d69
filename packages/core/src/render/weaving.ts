import { UNDRESSED } from '../dress/index.js';
import { UserError } from '../errors/index.js';
import { type Derivation, identityOf } from '../identity/index.js';
import {
  type JointScore,
  joinOf,
  MOST_WOVEN,
  ownWeave,
  PLAIN_LOOP,
  REEL_WEAVE,
  WOVEN_ROOM,
  type Woven,
} from '../loop/index.js';
import { findCuts, scenesWithin, signatureOf } from '../motion/index.js';
import { type Size, sizeWithin } from '../pixels/index.js';
import { framedSize, type Recipe, type Take } from '../recipe/index.js';
import { beginStroke, createMask, type Mask, movingMask } from '../still/index.js';
import type { Span } from '../timing/index.js';
import {
  choosePlateFrame,
  createPlanes,
  cutPlanes,
  FREED,
  HELD,
  jointSpread,
  LEFT_OPEN,
  livingPart,
  lookAtCells,
  makeWeave,
  measureWeave,
  putFrame,
  type RoundTables,
  tablesOf,
  type Weave,
  type WovenTake,
} from '../weave/index.js';
import { composeMask } from './compose-mask.js';
import type { FrameSource } from './frame-source.js';
import { ENGINE_VERSION, planRender, type RenderPlan, steadyFrame } from './plan-render.js';
import { stepsInputs } from './run-steps.js';
import { openTakeFrames } from './take-frames.js';

const LOOK: Derivation = { name: 'cells of a take', version: ENGINE_VERSION };
const WEAVE: Derivation = { name: 'weave and its seam', version: ENGINE_VERSION };
const WEAVING: Derivation = { name: 'weaves of a recipe and their seams', version: ENGINE_VERSION };

/** Longer side of the pictures that are looked at, px: a weave is the same whatever width the file will have. */
const MOST_LOOKED_AT = 480;
/** Frames that are read at once: each reading starts the decoder anew. */
const CHUNK = 72;

/** A weave that a recipe asks for. */
export interface WeaveWish {
  /** What it is called in the reels. */
  readonly name: string;
  readonly settings: Woven;
  /** Where its frames may come from. */
  readonly span: Span;
  /** Ids of the ripples through which it is seen; null: the whole picture. */
  readonly ripples: readonly string[] | null;
}

/** The weaves that a recipe asks for, each once. */
export function wishedWeaves({ loop: { join }, span, still }: Recipe): WeaveWish[] {
  const wishes: WeaveWish[] = [];
  const shown = still.plate ? still.ripples.filter((ripple) => ripple.shown) : null;
  const closing = joinOf(join);
  const settings = closing.woven?.(join);
  const common = shown?.filter((ripple) => ripple.loop === null).map(({ id }) => id) ?? null;
  if (settings && !closing.missing?.(join, span) && common?.length !== 0) {
    wishes.push({ name: REEL_WEAVE, settings, span: wovenSpan(span), ripples: common });
  }
  for (const { id, loop } of shown ?? []) {
    const own = loop && ownWeave(loop);
    if (!loop || !own) continue;
    const there = wishes.findIndex(({ name }) => name === own.name);
    if (there < 0) wishes.push({ ...own, span: wovenSpan(loop.span), ripples: [id] });
    else wishes[there] = { ...wishes[there], ripples: [...(wishes[there].ripples ?? []), id] };
  }
  return wishes;
}

function wovenSpan({ start, end }: Span): Span {
  return { start, end: Math.min(end, start + MOST_WOVEN) };
}

/**
 * The plan whose frames of the take are looked at for a weave: those of its span, through all steps but the
 * join and the dress, in small.
 */
export function planWeaving(recipe: Recipe, take: Take, span: Span): RenderPlan {
  const framed = framedSize(take.size, recipe.framing);
  const { width } = sizeWithin(framed, MOST_LOOKED_AT);
  const { still, dress, weigh } = recipe;
  const plan = planRender(
    {
      ...recipe,
      span: wovenSpan(span),
      loop: PLAIN_LOOP,
      dress: { ...UNDRESSED, veils: dress.veils },
      still: { ...still, ripples: still.ripples.map((ripple) => ({ ...ripple, loop: null })) },
      weigh: { ...weigh, width, frameRate: 'source' },
    },
    take,
  );
  // As the woven recipe has it: the plan itself is of a plain one.
  return { ...plan, steadyTo: still.plate ? null : steadyFrame(recipe, take) };
}

/** The cells of a take. */
export function lookKey(plan: RenderPlan, { settings: { plate }, span, ripples }: WeaveWish): string {
  return identityOf(LOOK, { ...stepsInputs(plan), plate, span, ripples });
}

/** One weave. */
export function weaveKey(plan: RenderPlan, wish: WeaveWish): string {
  return identityOf(WEAVE, { ...stepsInputs(plan), wish });
}

/** All weaves that a recipe asks for. */
export function weavingKey(recipe: Recipe, take: Take): string {
  const weaves = wishedWeaves(recipe).map((wish) => weaveKey(planWeaving(recipe, take, wish.span), wish));
  return identityOf(WEAVING, { weaves });
}

/** The cells of a take, and what masks decide about them. */
export interface LookedAtTake {
  readonly take: WovenTake;
  /** LEFT_OPEN or HELD, one a cell; null where nothing is held. */
  readonly held: Uint8Array | null;
  /** What lengths cost that were asked for before; kept while only wishes change. */
  readonly tables: Map<number, RoundTables | null>;
  /** How a mask of the take's shape lies over the cells. */
  readonly cellsOf: (mask: Mask) => Uint8Array;
  readonly canvas: Size;
}

/**
 * Reads the frames of a span and looks at their cells. Where the scene is cut, only the longest scene counts.
 * @param onProgress 0–1.
 * @throws UserError where a frame cannot be read, or too few are there.
 */
export async function lookAtTake(
  plan: RenderPlan,
  { settings, span, ripples }: Pick<WeaveWish, 'settings' | 'span' | 'ripples'>,
  source: FrameSource,
  onProgress: (done: number) => void = () => {},
): Promise<LookedAtTake> {
  const frames = await openTakeFrames(plan, source);
  const count = span.end - span.start;
  const all = createPlanes(plan.size, count + 1);
  const signatures: Uint8Array[] = [];
  for (let from = span.start; from < span.end; from += CHUNK) {
    const chunk = Array.from({ length: Math.min(CHUNK, span.end - from) }, (_, i) => from + i);
    await frames.read(chunk);
    for (const frame of chunk) {
      const picture = frames.get(frame);
      putFrame(all, frame - span.start, picture);
      signatures.push(signatureOf(picture));
    }
    frames.forget(chunk);
    onProgress((from + chunk.length - span.start) / count);
  }
  // A round must not run over a cut of the scene.
  const scenes = scenesWithin({ start: 0, end: count }, findCuts(signatures));
  const scene = scenes.reduce((a, b) => (b.end - b.start > a.end - a.start ? b : a));
  const planes = scenes.length === 1 ? all : cutPlanes(all, scene.start, scene.end, 1);
  const firstFrame = span.start + scene.start;
  const held = frames.plate();
  let plateFrame = settings.plate ?? firstFrame + choosePlateFrame(planes);
  if (held && plan.still) {
    plateFrame = plan.still.plate.frame;
    putFrame(planes, planes.count - 1, held.picture);
  } else {
    plateFrame = Math.min(plateFrame, plan.take.times.starts.length - 1);
    await frames.read([plateFrame]);
    putFrame(planes, planes.count - 1, frames.get(plateFrame));
  }
  const take = lookAtCells(planes, firstFrame, plateFrame);
  const { grid } = take;
  const composition = plan.composition(plateFrame);
  const cellsOf = (mask: Mask) => cellMask(composeMask(mask, composition), grid);
  const painted = new Map<string, Mask>();
  const region = plan.still?.ripples.filter(({ id }) => ripples?.includes(id)) ?? null;
  for (const { mask } of region ?? []) if (mask) painted.set(mask, await source.mask(mask));
  const moving = region && movingMask(region, (hash) => painted.get(hash) as Mask, maskSize(plan.take.size));
  return {
    take,
    held: moving && cellsOf(moving).map((seen) => (seen > 0 ? LEFT_OPEN : HELD)),
    tables: new Map(),
    cellsOf,
    canvas: plan.take.size,
  };
}

/** Masks of hands and ripples are looked at in this size. */
function maskSize(take: Size): Size {
  return sizeWithin(take, 2 * MOST_LOOKED_AT);
}

/** The most that a mask shows of each cell, 0–255. */
function cellMask({ width, values }: Mask, { cell, cols, rows, height }: WovenTake['grid']): Uint8Array {
  const most = new Uint8Array(cols * rows);
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const at = Math.floor(y / cell) * cols + Math.floor(x / cell);
      most[at] = Math.max(most[at], values[y * width + x]);
    }
  }
  return most;
}

/** How a weave is seen, as plain data. */
export interface WovenSeam extends Omit<JointScore, 'map'> {
  readonly map: Omit<JointScore['map'], 'values'> & { readonly values: readonly number[] };
}

function plainSeam({ map, ...seam }: JointScore): WovenSeam {
  return { ...seam, map: { ...map, values: Array.from(map.values, (value) => Number(value.toFixed(2))) } };
}

/** A weave, and what is to be said of it. */
export interface WovenPart {
  readonly weave: Weave;
  /** Squared usual steps, a living cell: under 5 it is good. */
  readonly energy: number;
  /** The part of the picture that moves, 0–1; of what may move at all where something is held. */
  readonly moving: number;
  /** How its joint is seen. */
  readonly seam: WovenSeam;
  /** The part that is alive in the footage and may move, 0–1. */
  readonly living: number;
  /** Seconds over which the joint is spread. */
  readonly spread: number;
}

/**
 * Weaves a take that was looked at.
 * @param id a hash of all that it depends on.
 * @throws UserError where the span, or its longest scene, is too short.
 */
export function wovenPart(looked: LookedAtTake, plan: RenderPlan, wish: WeaveWish, id: string): WovenPart {
  const { take, tables } = looked;
  const { frames, liveliness } = wish.settings;
  if (!tables.has(frames)) tables.set(frames, tablesOf(take, frames));
  const found = tables.get(frames);
  if (!found) throw tooShort(take.statistics.frames, wish);
  const made = makeWeave(take, found, { liveliness, decided: decisions(looked, wish) }, wish.span.start, id);
  const { duration, starts } = plan.take.times;
  const seconds = duration / starts.length;
  return {
    ...made,
    seam: plainSeam(measureWeave(take, made.weave, seconds)),
    spread: jointSpread(made.weave) * seconds,
  };
}

function tooShort(there: number, { span, settings: { frames } }: WeaveWish): UserError {
  const needed = `a woven round of ${frames} takes ${frames + 2 * WOVEN_ROOM + 1}`;
  if (there < span.end - span.start) {
    return new UserError(
      'scene_is_cut',
      `There are cuts within the span: its longest scene has ${there} frames, and ${needed}. Set the span to one longer scene, or make the round shorter.`,
    );
  }
  return new UserError(
    'span_too_short',
    `The span has ${there} frames, and ${needed}. Make the span longer, or the round shorter.`,
  );
}

/** What masks and touches say about each cell. */
function decisions(
  { take, held, cellsOf, canvas }: LookedAtTake,
  { settings: { touches } }: WeaveWish,
): Uint8Array | null {
  if (!held && touches.length === 0) return null;
  const cells = held ? held.slice() : new Uint8Array(take.grid.cols * take.grid.rows);
  const size = maskSize(canvas);
  for (const { moves, points, radius } of touches) {
    const mask = createMask(size.width, size.height);
    const brush = {
      radius: Math.max(LEAST_RADIUS, (radius ?? CLICK_RADIUS) * size.width),
      softness: 0,
      strength: 1,
      way: 'stir',
    } as const;
    const stroke = beginStroke(mask, brush);
    for (const [x, y] of points) stroke.add({ x: x * size.width, y: y * size.height, pressure: 1 });
    const touched = cellsOf(mask);
    const meant = radius === null ? livingPart(take, touched) : touched;
    for (let cell = 0; cell < cells.length; cell++) {
      // What a ripple holds stays held.
      if (meant[cell] < 128 || held?.[cell] === HELD) continue;
      cells[cell] = moves ? FREED : HELD;
    }
  }
  return cells;
}

/** A click is as wide as this, in shares of the take's width. */
const CLICK_RADIUS = 0.006;
/** … and no narrower, px of its mask. */
const LEAST_RADIUS = 1.5;
