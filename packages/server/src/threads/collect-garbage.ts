import { setFlagsFromString } from 'node:v8';
import { runInNewContext } from 'node:vm';

/** How long after a job its thread collects garbage: the result has been sent by then, ms. */
const AFTER_MS = 50;

let collect: (() => void) | null = null;
let waiting: NodeJS.Timeout | null = null;

/**
 * Schedules a garbage collection for shortly after the end of a job. Pictures lie outside of the heap, whose
 * growth triggers collections: the engine would keep them over many more jobs.
 */
export function collectSoon(): void {
  waiting?.refresh();
  waiting ??= setTimeout(() => {
    waiting = null;
    collectNow();
  }, AFTER_MS).unref();
}

/** Collects garbage at once, between the parts of a reel that would take too much memory as a whole. */
export function collectNow(): void {
  collect ??= exposedCollector();
  collect();
}

/** V8's `gc`, which only a flag exposes. */
function exposedCollector(): () => void {
  setFlagsFromString('--expose-gc');
  return runInNewContext('gc') as () => void;
}
