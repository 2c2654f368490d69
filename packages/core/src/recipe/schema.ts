import Joi from 'joi';
import { dressSchema } from '../dress/index.js';
import { FILE_KIND_IDS, fileKind, GIF_LIMITS } from '../files/index.js';
import { joinSchema, type LoopSettings, MOST_REEL_FRAMES, type ReelEditKind } from '../loop/index.js';
import { FIT_NAMES, MATTE_PATTERN, TURNS } from '../pixels/index.js';
import { hashText as hash, nameText, real, whole } from '../schema/index.js';
import type { StillSettings } from '../still/index.js';
import { RECIPE_VERSION, type Recipe, type WeighSettings } from './recipe.js';

/** Bounds of every number in a recipe: one list for the schema, the interface and the command line. */
export const RECIPE_LIMITS = {
  width: { min: 16, max: 1920 },
  frameRate: { min: 1, max: 120 },
  ...GIF_LIMITS,
  plays: { min: 0, max: 65535 },
  /** A side of the canvas or the box, px. */
  side: { min: 1, max: 4096 },
  /** Pictures in one piece. */
  pictures: { min: 1, max: 600 },
  every: { min: 1, max: 100 },
  /** How long a picture is shown, centiseconds. */
  delayCs: { min: 2, max: 65535 },
  /** The span's length divided by the reel's. */
  speed: { min: 0.01, max: 100 },
  /** How much longer the first or the last frame stays, centiseconds. */
  restCs: { min: 0, max: 6000 },
  repeats: { min: 1, max: 50 },
  /** How far a ripple's edge is moved or faded, px of its mask. */
  grow: { min: -200, max: 200 },
  feather: { min: 0, max: 300 },
  ripples: { min: 0, max: 24 },
  /** Rounds of a ripple in one of the reel. */
  rounds: { min: 1, max: 60 },
  /** Mixtures between two frames. */
  blends: { min: 1, max: 60 },
} as const;

export const weighSchema = Joi.object<WeighSettings>({
  width: whole(RECIPE_LIMITS.width),
  frameRate: Joi.alternatives(Joi.valid('source'), real(RECIPE_LIMITS.frameRate)).required(),
  matte: Joi.string().pattern(MATTE_PATTERN).required(),
  kind: Joi.string()
    .valid(...FILE_KIND_IDS)
    .required(),
  ...Object.fromEntries(FILE_KIND_IDS.map((id) => [id, fileKind(id).settings.schema.required()])),
});

const fit = Joi.string().valid(...FIT_NAMES);
const matte = Joi.string().pattern(MATTE_PATTERN).required();
const size = { width: whole(RECIPE_LIMITS.side), height: whole(RECIPE_LIMITS.side) };
const share = real({ min: 0, max: 1 });

const footageSchema = Joi.object({
  kind: Joi.string().valid('footage').required(),
  hash,
  every: whole(RECIPE_LIMITS.every),
});

const pictureSchema = Joi.object({
  hash,
  fit: fit.allow(null).required(),
  focus: Joi.object({ x: share, y: share }).required(),
});

const stillsSchema = Joi.object({
  kind: Joi.string().valid('stills').required(),
  pictures: Joi.array()
    .items(pictureSchema)
    .min(RECIPE_LIMITS.pictures.min)
    .max(RECIPE_LIMITS.pictures.max)
    .required(),
  canvas: Joi.object(size).required(),
  fit: fit.required(),
  matte,
  delayCs: whole(RECIPE_LIMITS.delayCs),
});

const sourceSchema = Joi.object().when('.kind', {
  is: 'stills',
  // biome-ignore lint/suspicious/noThenProperty: Joi's own word
  then: stillsSchema,
  otherwise: footageSchema,
});

/**
 * Far larger than any picture that can be read; where it must lie inside one, that is checked against the
 * file.
 */
const pixel = Joi.number().integer().min(0).max(65535).required();

const framingSchema = Joi.object({
  crop: Joi.object({ x: pixel, y: pixel, width: pixel.min(1), height: pixel.min(1) })
    .allow(null)
    .required(),
  turn: Joi.number()
    .valid(...TURNS)
    .required(),
  mirror: Joi.boolean().required(),
  box: Joi.object({ ...size, fit: fit.required(), matte, blurred: Joi.boolean() })
    .allow(null)
    .required(),
});

const spanSchema = Joi.object({
  start: Joi.number().integer().min(0).required(),
  end: Joi.number().integer().greater(Joi.ref('start')).required(),
});

/** Frames that all edits of a recipe together may name: looking through them takes time. */
const MOST_REFS = 30_000;

/** Source frame, copy, and how many source frames it stood for. Looked at by hand: there may be thousands. */
function isFrameRef(value: unknown): boolean {
  if (!Array.isArray(value) || value.length !== 3) return false;
  const [source, copy, reach] = value;
  return [source, copy, reach].every(Number.isSafeInteger) && source >= 0 && copy >= 0 && reach >= 1;
}

const frameRef = Joi.any()
  .custom((value, { error }) => (isFrameRef(value) ? value : error('any.custom')))
  .messages({ 'any.custom': '{{#label}} must be a frame: its number, the copy, and how many it stands for' });
const frameRefs = Joi.any()
  .custom((value, { error }) =>
    Array.isArray(value) && value.length > 0 && value.length <= MOST_REEL_FRAMES && value.every(isFrameRef)
      ? value
      : error('any.custom'),
  )
  .messages({ 'any.custom': `{{#label}} must be 1 to ${MOST_REEL_FRAMES} frames` })
  .required();

/** Each kind of edit, and what it holds beside its kind. */
const EDITS: Record<ReelEditKind, object> = {
  remove: { frames: frameRefs, keepTime: Joi.boolean().required() },
  delay: { frames: frameRefs, delayCs: whole(RECIPE_LIMITS.delayCs) },
  move: { frames: frameRefs, before: frameRef.allow(null).required() },
  reverse: { frames: frameRefs },
  duplicate: { frames: frameRefs },
  blend: {
    after: frameRef.required(),
    count: whole(RECIPE_LIMITS.blends),
    delayCs: whole(RECIPE_LIMITS.delayCs),
  },
};
const EDIT_KINDS = Object.keys(EDITS);

/** By its kind, so that only one shape is held against it. */
const editSchema = Joi.alternatives().conditional('.kind', {
  switch: Object.entries(EDITS).map(([kind, fields]) => ({
    is: kind,
    // biome-ignore lint/suspicious/noThenProperty: Joi's own word
    then: Joi.object({ kind: Joi.valid(kind).required(), ...fields }),
  })),
  otherwise: Joi.object({ kind: Joi.valid(...EDIT_KINDS).required() }).unknown(),
});

const editsSchema = Joi.array()
  .items(editSchema)
  .max(500)
  .custom((edits: readonly { readonly frames?: readonly unknown[] }[], { error }) => {
    const named = edits.reduce((sum, edit) => sum + (edit.frames?.length ?? 0), 0);
    return named <= MOST_REFS ? edits : error('any.custom');
  })
  .messages({ 'any.custom': `{{#label}} may name ${MOST_REFS} frames in all` })
  .required();

const loopSchema = Joi.object<LoopSettings>({
  join: joinSchema.required(),
  speed: real(RECIPE_LIMITS.speed),
  reverse: Joi.boolean().required(),
  smooth: Joi.boolean().required(),
  restStartCs: whole(RECIPE_LIMITS.restCs),
  restEndCs: whole(RECIPE_LIMITS.restCs),
  repeats: whole(RECIPE_LIMITS.repeats),
  edits: editsSchema,
});

const plateSchema = Joi.object({
  kind: Joi.string().valid('frame', 'picture').required(),
  frame: Joi.number().integer().min(0).required(),
  hash: Joi.when('kind', {
    is: 'picture',
    // biome-ignore lint/suspicious/noThenProperty: Joi's own word
    then: hash,
    otherwise: Joi.forbidden(),
  }),
});

const outlineSchema = Joi.object({
  points: Joi.array()
    .items(
      Joi.object({
        x: Joi.number().min(-1).max(2).required(),
        y: Joi.number().min(-1).max(2).required(),
        smooth: Joi.boolean().required(),
      }),
    )
    .min(3)
    .max(400)
    .required(),
  adds: Joi.boolean().required(),
});

const rippleSchema = Joi.object({
  id: Joi.string().min(1).max(40).required(),
  name: nameText,
  mask: hash.allow(null),
  outlines: Joi.array().items(outlineSchema).max(50).required(),
  grow: real(RECIPE_LIMITS.grow),
  feather: real(RECIPE_LIMITS.feather),
  invert: Joi.boolean().required(),
  shown: Joi.boolean().required(),
  loop: Joi.object({
    span: spanSchema.required(),
    join: joinSchema.required(),
    rounds: whole(RECIPE_LIMITS.rounds),
  })
    .allow(null)
    .required(),
});

const stillSchema = Joi.object<StillSettings>({
  plate: plateSchema.allow(null).required(),
  ripples: Joi.array().items(rippleSchema).max(RECIPE_LIMITS.ripples.max).required(),
  steady: Joi.boolean().required(),
  evenLight: Joi.boolean().required(),
});

export const recipeSchema = Joi.object<Recipe>({
  version: Joi.number().valid(RECIPE_VERSION).required(),
  sources: Joi.array().items(sourceSchema).length(1).required(),
  span: spanSchema.required(),
  framing: framingSchema.required(),
  loop: loopSchema.required(),
  still: stillSchema.required(),
  dress: dressSchema.required(),
  plays: whole(RECIPE_LIMITS.plays),
  weigh: weighSchema.required(),
});
