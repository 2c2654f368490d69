import type { Recipe } from '@muted-pond/core/recipe';
import { saveText } from './save-text.js';

/** Hands the recipe to the browser as a file to be saved. */
export function saveRecipeFile(name: string, recipe: Recipe): void {
  saveText(JSON.stringify(recipe, null, 2), `${name.trim() || 'piece'}.recipe.json`, 'application/json');
}
