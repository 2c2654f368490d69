import type { Caption, DressSettings, Emblem } from '@muted-pond/core/dress';
import { type Recipe, recipeSchema } from '@muted-pond/core/recipe';
import { withDress } from './dress-edits.js';

/** What was copied in any window, to be laid on any piece. */
export type Copied =
  | { readonly type: 'dress'; readonly from: string; readonly dress: DressSettings }
  | { readonly type: 'captions'; readonly from: string; readonly entry: Caption }
  | { readonly type: 'emblems'; readonly from: string; readonly entry: Emblem };

const KEY = 'muted-pond.copied';

export function copy(copied: Copied): void {
  localStorage.setItem(KEY, JSON.stringify(copied));
}

export function copiedNow(): Copied | null {
  try {
    const copied = JSON.parse(localStorage.getItem(KEY) ?? 'null') as Copied | null;
    return copied && typeof copied.from === 'string' ? copied : null;
  } catch {
    return null;
  }
}

/**
 * The recipe with what was copied laid on it: one more caption or emblem, or all of another dress. Veils hide what
 * only their own footage shows: those of the piece stay.
 * @param freshId gives an id that is not in use.
 * @returns null where it cannot be laid, as by another version.
 */
export function laidOn(recipe: Recipe, copied: Copied, freshId: () => string): Recipe | null {
  const { dress } = recipe;
  const laid =
    copied.type === 'dress'
      ? withDress(recipe, { ...copied.dress, veils: dress.veils })
      : withDress(recipe, {
          [copied.type]: [...dress[copied.type], { ...copied.entry, id: freshId() }],
        });
  return recipeSchema.validate(laid, { convert: false }).error ? null : laid;
}

/** What was copied, in words. */
export function copiedWords({ type, from }: Copied): string {
  const what = { dress: 'the dress', captions: 'a caption', emblems: 'an emblem' }[type];
  return `${what} of “${from}”`;
}
