import { type Derivation, identityOf } from '../identity/index.js';
import type { Recipe } from '../recipe/index.js';
import { loopInputs } from './loop.js';

const STAGE_PLAN: Derivation = { name: 'stage plan', version: 1 };

/** What is composed of a recipe on the stage: frames before they become a file of any kind. */
export function stagePlanKey(recipe: Recipe): string {
  const { framing, still, dress, weigh } = recipe;
  return identityOf(STAGE_PLAN, { ...loopInputs(recipe), framing, still, dress, width: weigh.width });
}
