import type { ColourSettings } from '@muted-pond/core/colour';
import type { DressSettings } from '@muted-pond/core/dress';
import type { Recipe } from '@muted-pond/core/recipe';

/** A recipe with part of its dress changed. */
export function withDress(recipe: Recipe, part: Partial<DressSettings>): Recipe {
  return { ...recipe, dress: { ...recipe.dress, ...part } };
}

export function withColour(recipe: Recipe, part: Partial<ColourSettings>): Recipe {
  return withDress(recipe, { colour: { ...recipe.dress.colour, ...part } });
}
