import { type Derivation, identityOf } from '../identity/index.js';
import type { LoopLength } from '../loop/index.js';
import type { Recipe } from '../recipe/index.js';
import { loopInputs } from './loop.js';

const SEAMS: Derivation = { name: 'seams', version: 3 };

/** A look for seams: where they are looked for, and how long a loop may be. */
export interface SeamAsk {
  readonly within: string;
  readonly length: LoopLength;
}

/** Which seams a recipe has, with what is seen of the picture and what moves in it. */
export function seamsKey(recipe: Recipe, { within, length }: SeamAsk): string {
  const { framing, still } = recipe;
  return identityOf(SEAMS, { ...loopInputs(recipe), framing, still, within, length });
}
