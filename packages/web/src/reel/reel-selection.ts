import type { ReelItem } from '@muted-pond/core/loop';
import { createPieceView } from '../store/piece-view.js';

/** A frame's name as a key: what it shows, and which copy of it. */
export const keyOf = ({ source, copy }: Pick<ReelItem, 'source' | 'copy'>): string => `${source}.${copy}`;

/** Frames of the reel that are chosen. */
interface ReelSelection {
  readonly chosen: ReadonlySet<string>;
  /** Where a range begins. */
  readonly anchor: number;
}

export const useReelSelection = createPieceView<ReelSelection>({ chosen: new Set<string>(), anchor: 0 });

export type ChooseWay = 'only' | 'range' | 'add';

/** What is chosen after a click: that frame only, all from the anchor to it, or it beside the others. */
export function chosenAfter(
  { chosen, anchor }: ReelSelection,
  items: readonly ReelItem[],
  place: number,
  way: ChooseWay,
): ReelSelection {
  const key = keyOf(items[place]);
  if (way === 'range') {
    const [from, to] = [Math.min(anchor, place), Math.max(anchor, place)];
    return { chosen: new Set(items.slice(from, to + 1).map(keyOf)), anchor };
  }
  if (way === 'add') {
    const next = new Set(chosen);
    if (!next.delete(key)) next.add(key);
    return { chosen: next, anchor: place };
  }
  return { chosen: new Set([key]), anchor: place };
}

export function choosePlaces(items: readonly ReelItem[], places: readonly number[]): void {
  useReelSelection.setState({
    chosen: new Set(places.map((place) => keyOf(items[place]))),
    anchor: places[0] ?? 0,
  });
}

/** Every n-th frame, from the first that is chosen, or the reel's first. */
export function everyNth(items: readonly ReelItem[], chosen: ReadonlySet<string>, n: number): number[] {
  const first = Math.max(
    0,
    items.findIndex((item) => chosen.has(keyOf(item))),
  );
  return items.flatMap((_, place) => (place >= first && (place - first) % n === 0 ? [place] : []));
}

/** Every frame that is not an n-th, counted from the reel's first: what goes when every n-th stays. */
export function allButNth(items: readonly ReelItem[], n: number): number[] {
  return items.flatMap((_, place) => (place % n === 0 ? [] : [place]));
}
