import type { ColourSettings } from '@muted-pond/core/colour';
import type { Caption, CaptionStyle, DressSettings, Emblem, Veil } from '@muted-pond/core/dress';
import type { Recipe } from '@muted-pond/core/recipe';

/** A recipe with part of its dress changed. */
export function withDress(recipe: Recipe, part: Partial<DressSettings>): Recipe {
  return { ...recipe, dress: { ...recipe.dress, ...part } };
}

export function withColour(recipe: Recipe, part: Partial<ColourSettings>): Recipe {
  return withDress(recipe, { colour: { ...recipe.dress.colour, ...part } });
}

/** The lists of a dress, and what stands in each. */
export interface DressLists {
  captions: Caption;
  emblems: Emblem;
  veils: Veil;
}
export type ListName = keyof DressLists;

function withList<Name extends ListName>(
  recipe: Recipe,
  name: Name,
  edit: (list: readonly DressLists[Name][]) => readonly DressLists[Name][],
): Recipe {
  const list = recipe.dress[name] as unknown as readonly DressLists[Name][];
  return withDress(recipe, { [name]: edit(list) });
}

export function changeEntry<Name extends ListName>(
  recipe: Recipe,
  name: Name,
  id: string,
  part: Partial<DressLists[Name]>,
): Recipe {
  return withList(recipe, name, (list) => list.map((one) => (one.id === id ? { ...one, ...part } : one)));
}

export function addEntry<Name extends ListName>(recipe: Recipe, name: Name, entry: DressLists[Name]): Recipe {
  return withList(recipe, name, (list) => [...list, entry]);
}

export function removeEntry(recipe: Recipe, name: ListName, id: string): Recipe {
  return withList(recipe, name, (list) => list.filter((one) => one.id !== id) as never);
}

/** A copy right above it. */
export function duplicateEntry(recipe: Recipe, name: ListName, id: string, copyId: string): Recipe {
  return withList(
    recipe,
    name,
    (list) =>
      (list as readonly { id: string }[]).flatMap((one) =>
        one.id === id ? [one, { ...one, id: copyId }] : [one],
      ) as never,
  );
}

/** Higher is later in the list. */
export function moveEntry(recipe: Recipe, name: ListName, id: string, by: 1 | -1): Recipe {
  return withList(recipe, name, (list) => {
    const from = list.findIndex((one) => one.id === id);
    const to = from + by;
    if (from < 0 || to < 0 || to >= list.length) return list;
    const moved = [...list];
    [moved[from], moved[to]] = [moved[to], moved[from]];
    return moved as never;
  });
}

export function changeStyle(recipe: Recipe, id: string, part: Partial<CaptionStyle>): Recipe {
  const caption = recipe.dress.captions.find((one) => one.id === id);
  return caption ? changeEntry(recipe, 'captions', id, { style: { ...caption.style, ...part } }) : recipe;
}

/** Time bars of captions and emblems: both have a time on the reel. */
export function changeTime(
  recipe: Recipe,
  name: 'captions' | 'emblems',
  id: string,
  time: Caption['time'],
): Recipe {
  return changeEntry(recipe, name, id, { time });
}
