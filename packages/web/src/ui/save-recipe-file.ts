import type { Recipe } from '@muted-pond/core/recipe';

/** Hands the recipe to the browser as a file to be saved. */
export function saveRecipeFile(name: string, recipe: Recipe): void {
  const url = URL.createObjectURL(new Blob([JSON.stringify(recipe, null, 2)], { type: 'application/json' }));
  const link = document.createElement('a');
  link.href = url;
  link.download = `${name.replace(/[\\/:*?"<>|]+/g, ' ').trim() || 'piece'}.recipe.json`;
  link.click();
  // The browser reads it before the next turn.
  setTimeout(() => URL.revokeObjectURL(url), 0);
}
