import { type Derivation, identityOf } from '../identity/index.js';
import type { Recipe } from '../recipe/index.js';
import { ENGINE_VERSION } from '../render/index.js';
import { fileInputs } from './file.js';

const SAVINGS: Derivation = { name: 'savings', version: ENGINE_VERSION };

/** What is changed, one change after the other: settings of the file, or how it is coloured. */
export const SAVING_FAMILIES = ['settings', 'looks'] as const;
export type SavingFamily = (typeof SAVING_FAMILIES)[number];

/** What each change of a family alone makes of the file's weight. */
export function savingsKey(recipe: Recipe, of: SavingFamily): string {
  if (of === 'settings') return identityOf(SAVINGS, { ...fileInputs(recipe), of });
  // Looks are weighed against none; each is as strong as the one that is chosen.
  const { dress } = recipe;
  const { look, ...colour } = dress.colour;
  const bare = { ...recipe, dress: { ...dress, colour: { ...colour, look: null } } };
  return identityOf(SAVINGS, { ...fileInputs(bare), of, strength: look?.strength ?? 100 });
}
