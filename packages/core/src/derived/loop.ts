import { fileKind } from '../files/index.js';
import { type Derivation, identityOf } from '../identity/index.js';
import type { Recipe } from '../recipe/index.js';

const LOOP: Derivation = { name: 'loop', version: 1 };

/** All of a recipe that says which frames its reel shows, and for how long. */
export function loopInputs({ sources, span, loop, weigh: { frameRate, kind } }: Recipe) {
  return { sources, span, loop, frameRate, clock: fileKind(kind).holds.clock };
}

/** The loop of a recipe: its reel, and where it came from. */
export function loopKey(recipe: Recipe): string {
  return identityOf(LOOP, loopInputs(recipe));
}
