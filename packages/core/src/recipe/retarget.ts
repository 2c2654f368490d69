import type { DressSettings, Veil } from '../dress/index.js';
import { type JoinSettings, joinOf } from '../loop/index.js';
import { fitRect, type Rect, type Size } from '../pixels/index.js';
import type { Plate, Ripple, StillSettings } from '../still/index.js';
import { boundaryTime, type FrameTimes, fitSpan, nearestBoundary, type Span } from '../timing/index.js';
import type { Recipe } from './recipe.js';
import { type SourceFile, takeOf } from './take.js';

/**
 * The settings of a recipe: all that can be laid over other files. What names a file's frames (span, plate,
 * rounds of ripples, edits) is brought to the same seconds, what names places of its picture (crop, paint) to
 * the same places.
 */
export const SETTINGS = ['span', 'framing', 'loop', 'still', 'dress', 'plays', 'weigh'] as const;
export type SettingsPart = (typeof SETTINGS)[number];

/** What became of a setting that could not be carried over as it was. */
export interface RetargetNote {
  readonly kind: 'scaled' | 'dropped';
  /** For a person: a whole sentence. */
  readonly words: string;
}

export interface Retargeted {
  readonly recipe: Recipe;
  readonly notes: readonly RetargetNote[];
}

/** A recipe and what is known of its files. */
export interface RecipeOver {
  readonly recipe: Recipe;
  readonly files: readonly SourceFile[];
}

/** Shapes that differ by less than this are the same. */
const SAME_SHAPE = 0.01;

/**
 * Lays settings of one recipe over the sources of another.
 * @param from whose settings they are; without its files, frames and places are taken as they are counted
 * there.
 * @param onto whose sources they are, and all settings that are not among the parts.
 */
export function retarget(
  from: RecipeOver | { readonly recipe: Recipe; readonly files: null },
  onto: RecipeOver,
  parts: readonly SettingsPart[] = SETTINGS,
): Retargeted {
  const to = takeOf(onto.recipe, onto.files);
  const old = from.files ? takeOf(from.recipe, from.files) : { size: to.size, times: to.times };
  const notes: RetargetNote[] = [];
  const mapping: Mapping = {
    old,
    to,
    isOneShape: Math.abs(shapeOf(old.size) / shapeOf(to.size) - 1) <= SAME_SHAPE,
    areFramesAlike: haveOneTiming(old.times, to.times),
    at: (boundary) => nearestBoundary(to.times, boundaryTime(old.times, boundary)),
    tell: (kind, words) => notes.push({ kind, words }),
  };
  const recipe = from.recipe;
  const laid: Partial<Recipe> = {
    ...(parts.includes('span') && { span: carrySpan(recipe.span, mapping, from.files !== null) }),
    ...(parts.includes('framing') && {
      framing: { ...recipe.framing, crop: carryCrop(recipe.framing.crop, mapping) },
    }),
    ...(parts.includes('loop') && { loop: carryLoop(recipe, mapping) }),
    ...(parts.includes('still') && { still: carryStill(recipe.still, mapping, from.files !== null) }),
    ...(parts.includes('dress') && { dress: carryDress(recipe.dress, mapping, from.files !== null) }),
    ...(parts.includes('plays') && { plays: recipe.plays }),
    ...(parts.includes('weigh') && { weigh: recipe.weigh }),
  };
  return { recipe: { ...onto.recipe, ...laid }, notes };
}

interface Mapping {
  readonly old: { readonly size: Size; readonly times: FrameTimes };
  readonly to: { readonly size: Size; readonly times: FrameTimes };
  readonly isOneShape: boolean;
  /** Whether frame n of one is shown when frame n of the other is. */
  readonly areFramesAlike: boolean;
  /** The boundary between frames that lies at the same second. */
  readonly at: (boundary: number) => number;
  readonly tell: (kind: RetargetNote['kind'], words: string) => void;
}

function shapeOf({ width, height }: Size): number {
  return width / height;
}

function haveOneTiming(one: FrameTimes, other: FrameTimes): boolean {
  if (one.starts.length !== other.starts.length) return false;
  const slack = one.duration / one.starts.length / 4;
  for (let i = 0; i < one.starts.length; i++) {
    if (Math.abs(one.starts[i] - other.starts[i]) > slack) return false;
  }
  return true;
}

function carrySpan(span: Span, { old, to, at, tell }: Mapping, isKnown: boolean): Span {
  const frames = to.times.starts.length;
  // All of one is all of the other, however long it is.
  if (isKnown && span.start === 0 && span.end === old.times.starts.length) return { start: 0, end: frames };
  const isOver = isKnown
    ? boundaryTime(old.times, span.end) > to.times.duration * (1 + 1 / frames)
    : span.end > frames;
  if (isOver)
    tell('scaled', `The span ends where the footage does, after ${to.times.duration.toFixed(2)} s.`);
  return fitSpan({ start: at(span.start), end: at(span.end) }, frames);
}

function carryCrop(crop: Rect | null, { old, to, isOneShape, tell }: Mapping): Rect | null {
  if (!crop) return null;
  const across = to.size.width / old.size.width;
  const down = to.size.height / old.size.height;
  const scaled = {
    x: crop.x * across,
    y: crop.y * down,
    width: crop.width * across,
    height: crop.height * down,
  };
  const fitted = fitRect(scaled, to.size);
  if (across !== 1 || down !== 1) {
    const shape = isOneShape ? '' : ', and has another shape, as the picture has';
    tell(
      'scaled',
      `The crop lies on the same part of the picture, now ${fitted.width} × ${fitted.height} px${shape}.`,
    );
  } else if (fitted.width !== crop.width || fitted.height !== crop.height) {
    tell('scaled', `The crop is now ${fitted.width} × ${fitted.height} px: the picture ends there.`);
  }
  return fitted;
}

function carryLoop({ loop: settings, span }: Recipe, mapping: Mapping): Recipe['loop'] {
  const { areFramesAlike, tell } = mapping;
  const loop = { ...settings, join: carryJoin(settings.join, span, mapping) };
  const { edits } = loop;
  if (edits.length === 0 || areFramesAlike) return loop;
  const what =
    edits.length === 1 ? 'An edit of single frames was' : `${edits.length} edits of single frames were`;
  tell('dropped', `${what} left out: the frames are others.`);
  return { ...loop, edits: [] };
}

function carryJoin(join: JoinSettings, span: Span, { at, isOneShape, tell }: Mapping): JoinSettings {
  const { carry, woven } = joinOf(join);
  const carried = carry?.(join, span, at, isOneShape) ?? join;
  const touches = (one: JoinSettings) => woven?.(one).touches.length ?? 0;
  if (touches(carried) < touches(join)) {
    tell(
      'dropped',
      'What was held or set free by hand in the weave was left out: it belongs to a picture of another shape.',
    );
  }
  return carried;
}

function carryStill(still: StillSettings, mapping: Mapping, isKnown: boolean): StillSettings {
  const { to, at, tell } = mapping;
  const frames = to.times.starts.length;
  const carried = still.ripples.map((ripple) => carryRipple(ripple, mapping, isKnown));
  const unpainted = still.ripples.filter((ripple, i) => ripple.mask !== carried[i].mask).length;
  if (unpainted > 0) {
    const what = unpainted === 1 ? 'The paint of a ripple was' : `The paint of ${unpainted} ripples was`;
    tell(
      'dropped',
      `${what} left out: it belongs to ${isKnown ? 'a picture of another shape' : 'the piece it was painted in'}.`,
    );
  }
  return {
    ...still,
    plate:
      still.plate &&
      carryPlate(still.plate, { ...mapping, at: (frame) => Math.min(at(frame), frames - 1) }, isKnown),
    ripples: carried,
  };
}

/**
 * Looks, captions, borders and emblems suit any footage. A veil hides what only this footage shows: it lies where
 * it did, which is told, since it may hide something else there.
 */
function carryDress(dress: DressSettings, mapping: Mapping, isKnown: boolean): DressSettings {
  const { veils } = dress;
  if (veils.length === 0) return dress;
  const kept = veils.filter((veil) => veil.shape !== 'painted' || (isKnown && mapping.isOneShape));
  if (kept.length < veils.length) {
    mapping.tell('dropped', 'Painted veils were left out: they belong to the picture they were painted on.');
  }
  if (kept.length > 0) {
    const words =
      kept.length === 1
        ? 'A veil lies where it hid something in other footage. Look whether it still does.'
        : `${kept.length} veils lie where they hid something in other footage. Look whether they still do.`;
    mapping.tell('scaled', words);
  }
  return { ...dress, veils: kept.map((veil) => carryVeil(veil, mapping)) };
}

function carryVeil(veil: Veil, { to, at }: Mapping): Veil {
  const frames = to.times.starts.length;
  const keys = veil.keys.map((key) => ({ ...key, frame: Math.min(at(key.frame), frames - 1) }));
  return {
    ...veil,
    // Of keys that now lie on one frame, the first stays.
    keys: keys.filter((key, i) => i === 0 || key.frame > keys[i - 1].frame),
    span: veil.span && fitSpan({ start: at(veil.span.start), end: at(veil.span.end) }, frames),
  };
}

function carryPlate(plate: Plate, { isOneShape, at, tell }: Mapping, isKnown: boolean): Plate {
  const frame = at(plate.frame);
  if (plate.kind === 'frame' || (isKnown && isOneShape)) return { ...plate, frame };
  tell('dropped', 'The retouched plate was left out; its frame is held as it was filmed.');
  return { kind: 'frame', frame };
}

function carryRipple(ripple: Ripple, mapping: Mapping, isKnown: boolean): Ripple {
  const { to, isOneShape, at } = mapping;
  const mask = isKnown && isOneShape ? ripple.mask : null;
  if (!ripple.loop) return { ...ripple, mask };
  const { span, join } = ripple.loop;
  const own = fitSpan({ start: at(span.start), end: at(span.end) }, to.times.starts.length);
  return {
    ...ripple,
    mask,
    loop: { ...ripple.loop, span: own, join: carryJoin(join, span, mapping) },
  };
}
