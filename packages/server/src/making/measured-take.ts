import {
  createLookStore,
  createMovementFinder,
  lookBytes,
  lookSize,
  type MeasuredTake,
} from '@muted-pond/core/loop';
import type { Span } from '@muted-pond/core/timing';
import { readLooks } from '../media/index.js';
import type { MakingFile } from './making-file.js';

/** Looks that are at hand, one after the other. */
export interface KnownLooks {
  readonly span: Span;
  readonly looks: Uint8Array;
}

/**
 * Footage on which joints are measured; looks that are not known are decoded where they are needed.
 * @param cuts first frames of other scenes, rising.
 */
export function openMeasuredTake(
  file: MakingFile,
  cuts: readonly number[],
  known: KnownLooks = { span: { start: 0, end: 0 }, looks: new Uint8Array() },
): MeasuredTake {
  const size = lookSize(file.facts);
  const bytes = lookBytes(size);
  const { start, end } = known.span;
  const store = createLookStore(size, file.facts.ticks.length, async (from, to) =>
    from >= start && to <= end
      ? known.looks.subarray((from - start) * bytes, (to - start) * bytes)
      : readLooks(file, from, to),
  );
  return { looks: store, load: store.load, finder: createMovementFinder(size), cuts };
}
