import { type ActivitySeries, calmAt } from '@muted-pond/core/motion';
import { type FrameTimes, frameAt } from '@muted-pond/core/timing';
import type { StripView } from '../store/session-store.js';

/** What the two ribbons show in each column of pixels; NaN where it is not known yet. */
export interface RibbonColumns {
  /** 0–1 of the liveliest moment of the take. */
  readonly moves: Float32Array;
  /** 0–1. */
  readonly calm: Float32Array;
}

/** The liveliest and the least calm frame of every column. */
export function ribbonColumns(
  activity: ActivitySeries,
  times: FrameTimes,
  view: StripView,
  columns: number,
): RibbonColumns {
  const known = activity.moves.length;
  const moves = new Float32Array(columns).fill(Number.NaN);
  const calm = new Float32Array(columns).fill(Number.NaN);
  const most = highest(activity.moves);
  const secondsOf = (column: number) => view.from + ((view.to - view.from) * column) / columns;
  for (let column = 0; column < columns; column++) {
    const first = frameAt(times, secondsOf(column));
    const last = Math.max(first, frameAt(times, secondsOf(column + 1)) - 1);
    if (last >= known) break;
    let liveliest = 0;
    for (let frame = first; frame <= last; frame++) {
      // The first frame has none before it: it moves as the next one does.
      liveliest = Math.max(liveliest, activity.moves[frame === 0 ? Math.min(1, known - 1) : frame]);
    }
    moves[column] = most > 0 ? liveliest / most : 0;
    calm[column] = calmAt(activity, Math.round((first + last) / 2)) / 100;
  }
  return { moves, calm };
}

function highest(values: ArrayLike<number>): number {
  let most = 0;
  for (let i = 0; i < values.length; i++) most = Math.max(most, values[i]);
  return most;
}
