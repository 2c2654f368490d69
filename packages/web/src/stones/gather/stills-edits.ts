import { type Fit, type Focus, placePicture, type Rect, type Size } from '@muted-pond/core/pixels';
import type { Recipe, StillPicture, StillsSource } from '@muted-pond/core/recipe';
import { fitSpan } from '@muted-pond/core/timing';

/** A change of the stills; anything else stays as it is. */
export function editStills(recipe: Recipe, edit: (source: StillsSource) => StillsSource): Recipe {
  const [source] = recipe.sources;
  return source.kind === 'stills' ? { ...recipe, sources: [edit(source)] } : recipe;
}

/** Other pictures, or another order. A span over all stays over all; another one is fitted. */
export function setPictures(recipe: Recipe, pictures: readonly StillPicture[]): Recipe {
  const [source] = recipe.sources;
  if (source.kind !== 'stills' || pictures.length === 0) return recipe;
  const wasAll = recipe.span.start === 0 && recipe.span.end === source.pictures.length;
  const span = wasAll ? { start: 0, end: pictures.length } : fitSpan(recipe.span, pictures.length);
  return { ...recipe, span, sources: [{ ...source, pictures }] };
}

export function editPicture(recipe: Recipe, index: number, part: Partial<StillPicture>): Recipe {
  return editStills(recipe, (source) => ({
    ...source,
    pictures: source.pictures.map((picture, i) => (i === index ? { ...picture, ...part } : picture)),
  }));
}

/** Another canvas; the crop was of the old one. */
export function setCanvas(recipe: Recipe, canvas: Size): Recipe {
  const edited = editStills(recipe, (source) => ({ ...source, canvas }));
  return { ...edited, framing: { ...edited.framing, crop: null } };
}

/**
 * The focus after the picture was moved over the canvas.
 * @param by in canvas pixels.
 */
export function movedFocus(
  picture: Size,
  canvas: Size,
  fit: Fit,
  focus: Focus,
  by: { x: number; y: number },
): Focus {
  const placed: Rect = placePicture(picture, canvas, fit, focus);
  const along = (room: number, from: number, moved: number) =>
    Math.abs(room) < 0.5 ? from : Math.max(0, Math.min(1, from + moved / room));
  return {
    x: along(canvas.width - placed.width, focus.x, by.x),
    y: along(canvas.height - placed.height, focus.y, by.y),
  };
}
