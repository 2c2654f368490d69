import { UNDRESSED } from '../dress/index.js';
import { DEFAULT_KIND_SETTINGS } from '../files/index.js';
import { PLAIN_LOOP } from '../loop/index.js';
import { NO_CHOICE } from '../palette/index.js';
import { forbiddenKey } from '../schema/index.js';
import { NOTHING_HELD } from '../still/index.js';
import { WHOLE_PICTURE } from './framing.js';
import { RECIPE_VERSION, type Recipe } from './recipe.js';
import { recipeSchema } from './schema.js';

/** A recipe as it was read, before anything is known of it. */
type Unread = Readonly<Record<string, unknown>>;

/** One named step from the version before to this one. Pure. */
interface MigrationStep {
  readonly version: number;
  readonly name: string;
  readonly up: (recipe: Unread) => Unread;
}

/** Steps 2, 3, … without a gap; version 1 is where the document began. */
const STEPS: readonly MigrationStep[] = [
  {
    version: 2,
    name: 'AddFramingAndEvery',
    up: (recipe) => ({
      ...recipe,
      framing: WHOLE_PICTURE,
      sources: Array.isArray(recipe.sources)
        ? recipe.sources.map((source: unknown) => ({ ...(source as object), every: 1 }))
        : recipe.sources,
    }),
  },
  { version: 3, name: 'AddLoop', up: (recipe) => ({ ...recipe, loop: PLAIN_LOOP }) },
  { version: 4, name: 'AddStill', up: (recipe) => ({ ...recipe, still: NOTHING_HELD }) },
  { version: 5, name: 'AddOwnRounds', up: (recipe) => ({ ...recipe, still: withOwnRounds(recipe.still) }) },
  {
    version: 6,
    name: 'AddChosenColours',
    up: (recipe) => ({ ...recipe, weigh: { ...NO_CHOICE, ...(recipe.weigh as object) } }),
  },
  {
    version: 7,
    name: 'AddPalettePlanAndMatte',
    up: (recipe) => ({
      ...recipe,
      weigh: { palette: 'auto', matte: 'transparent', ...(recipe.weigh as object) },
    }),
  },
  { version: 8, name: 'AddKindsOfFile', up: (recipe) => ({ ...recipe, weigh: withKinds(recipe.weigh) }) },
  { version: 9, name: 'AddDress', up: (recipe) => ({ ...recipe, dress: UNDRESSED }) },
  {
    version: 10,
    name: 'AddSmooth',
    up: (recipe) =>
      isObject(recipe.loop) ? { ...recipe, loop: { smooth: false, ...(recipe.loop as object) } } : recipe,
  },
];

/** What was there for the one kind of file that there was goes to that kind. */
function withKinds(weigh: unknown): unknown {
  if (typeof weigh !== 'object' || weigh === null) return weigh;
  const { width, frameRate, matte, ...gif } = weigh as Unread;
  return { width, frameRate, matte, kind: 'gif', gif };
}

/** Kinds of file, and settings of theirs, that came after a recipe was written have their defaults. */
function withNewerKinds(recipe: Unread): Unread {
  const { weigh } = recipe;
  if (typeof weigh !== 'object' || weigh === null) return recipe;
  const filled = Object.entries(DEFAULT_KIND_SETTINGS).map(([id, defaults]) => {
    const own = (weigh as Unread)[id];
    return [id, own === undefined || isObject(own) ? { ...defaults, ...(own as object) } : own];
  });
  return { ...recipe, weigh: { ...weigh, ...Object.fromEntries(filled) } };
}

function isObject(value: unknown): boolean {
  return typeof value === 'object' && value !== null && !Array.isArray(value);
}

function withOwnRounds(still: unknown): unknown {
  const ripples: unknown = (still as Unread | null)?.ripples;
  if (!Array.isArray(ripples)) return still;
  return { ...(still as object), ripples: ripples.map((ripple: object) => ({ loop: null, ...ripple })) };
}

/** Characters of a document up to which all that is wrong with it is told. */
export const MOST_TOLD_WHOLE = 60_000;

export type RecipeReading =
  | { readonly type: 'ok'; readonly recipe: Recipe }
  | {
      readonly type: 'error';
      readonly reason: 'not-a-recipe' | 'too-new' | 'invalid';
      readonly message: string;
    };

/**
 * Brings a stored recipe of any earlier version to today's. Failure is a value with a sentence for a
 * person, never an exception.
 */
export function readRecipe(stored: unknown): RecipeReading {
  if (typeof stored !== 'object' || stored === null || !('version' in stored)) {
    return { type: 'error', reason: 'not-a-recipe', message: 'This is not a recipe: it has no version.' };
  }
  const forbidden = forbiddenKey(stored);
  if (forbidden !== null) {
    return {
      type: 'error',
      reason: 'not-a-recipe',
      message: `This is not a recipe: it has a key that is called “${forbidden}”.`,
    };
  }
  const version = (stored as Unread).version;
  if (typeof version !== 'number' || !Number.isInteger(version) || version < 1) {
    return {
      type: 'error',
      reason: 'not-a-recipe',
      message: 'This recipe’s version is not a number from 1.',
    };
  }
  if (version > RECIPE_VERSION) {
    return {
      type: 'error',
      reason: 'too-new',
      message: `This recipe was made by a later Muted Pond (recipe version ${version}; this one reads up to ${RECIPE_VERSION}). Update Muted Pond to open it.`,
    };
  }
  let recipe = stored as Unread;
  for (const step of STEPS) {
    if (step.version > version) recipe = { ...step.up(recipe), version: step.version };
  }
  recipe = withNewerKinds(recipe);
  // Of a small document everything that is wrong is told at once; of a large one that would take long.
  const abortEarly = JSON.stringify(recipe).length > MOST_TOLD_WHOLE;
  const { error, value } = recipeSchema.validate(recipe, { abortEarly, convert: false });
  if (error) {
    return {
      type: 'error',
      reason: 'invalid',
      message: `This recipe cannot be used: ${error.details.map((detail) => detail.message).join('; ')}.`,
    };
  }
  return { type: 'ok', recipe: value };
}
