import type { FootageView, NewPiece } from '@muted-pond/core/api';
import { byName } from '../ui/natural-order.js';

export interface PiecePlan {
  /** One piece from all pictures, one from each video and animation. */
  readonly pieces: readonly NewPiece[];
  /** Where the pictures’ names fall into several series: a piece from each of them instead. */
  readonly bySeries: readonly NewPiece[] | null;
}

/** What is made from files that were brought in together. Pictures stand in natural order of their names. */
export function planPieces(brought: readonly FootageView[]): PiecePlan {
  const pictures = byName(
    brought.filter((view) => view.kind === 'picture'),
    (view) => view.name,
  );
  const moving = brought
    .filter((view) => view.kind !== 'picture')
    .map((view): NewPiece => ({ footage: view.id }));
  if (pictures.length === 0) return { pieces: moving, bySeries: null };

  const series = new Map<string, FootageView[]>();
  for (const picture of pictures) {
    const stem = stemOf(picture.name);
    series.set(stem, [...(series.get(stem) ?? []), picture]);
  }
  const groups = [...series.values()];
  const isUnclear = groups.length > 1 && groups.every((group) => group.length > 1);
  return {
    pieces: [stillsPiece(pictures), ...moving],
    bySeries: isUnclear ? [...groups.map(stillsPiece), ...moving] : null,
  };
}

export function stillsPiece(pictures: readonly FootageView[]): NewPiece {
  const [first] = pictures;
  const stems = new Set(pictures.map((picture) => stemOf(picture.name)));
  const stem = stems.size === 1 ? stemOf(first.name) : '';
  const title = stem.charAt(0).toUpperCase() + stem.slice(1);
  return {
    stills: pictures.map((picture) => picture.id),
    name: (title || (pictures.length === 1 ? first.name : `${pictures.length} pictures`)).slice(0, 120),
  };
}

/** A file name without its ending and the number at its end: what a series of pictures shares. */
function stemOf(name: string): string {
  return name
    .replace(/\.[^.]{1,5}$/, '')
    .replace(/[\s_\-.(]*\d+\)?$/, '')
    .replace(/[_-]+/g, ' ')
    .trim()
    .toLowerCase();
}
