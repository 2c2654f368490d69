import { type Derivation, identityOf } from '../identity/index.js';
import type { Recipe, Take } from '../recipe/index.js';
import { ENGINE_VERSION, planRender, type RenderPlan } from './plan-render.js';
import { stepsInputs } from './run-steps.js';

const HOLDING: Derivation = { name: 'holding', version: ENGINE_VERSION };

/** Longer side of the frames on which steadying and light are measured, px. */
export const HOLDING_SIDE = 640;

/** What is measured: the piece at one size, whatever width the file will have. */
export function planHolding(recipe: Recipe, take: Take): RenderPlan {
  return planRender({ ...recipe, weigh: { ...recipe.weigh, width: HOLDING_SIDE } }, take);
}

/** What steadying and even light do to a recipe's frames. */
export function holdingKey(recipe: Recipe, take: Take): string {
  return identityOf(HOLDING, stepsInputs(planHolding(recipe, take)));
}
