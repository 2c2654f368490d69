import { type Derivation, identityOf } from '../identity/index.js';
import type { Limit, Recipe } from '../recipe/index.js';
import { ENGINE_VERSION } from '../render/index.js';
import { fileInputs } from './file.js';

const FIT: Derivation = { name: 'fit', version: ENGINE_VERSION };

/** The files of a recipe under a limit. */
export function fitKey(recipe: Recipe, limit: Omit<Limit, 'id'>): string {
  return identityOf(FIT, { ...fileInputs(recipe), limit });
}
