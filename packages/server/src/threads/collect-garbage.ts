import { setFlagsFromString } from 'node:v8';
import { runInNewContext } from 'node:vm';

/** How long after a job a thread collects: what it made is on its way by then, ms. */
const AFTER_MS = 50;

let collect: (() => void) | null = null;
let waiting: NodeJS.Timeout | null = null;

/**
 * Gives back the memory of what a job has left behind, shortly after its end. Pictures lie outside of the
 * heap by whose growth the engine decides when to collect: it would let them lie for many jobs more.
 */
export function collectSoon(): void {
  waiting?.refresh();
  waiting ??= setTimeout(() => {
    waiting = null;
    collectNow();
  }, AFTER_MS).unref();
}

/** Gives it back at once: between the parts of what would take too much all together. */
export function collectNow(): void {
  collect ??= exposedCollector();
  collect();
}

/** The engine's own call, which is hidden unless it is asked for. */
function exposedCollector(): () => void {
  setFlagsFromString('--expose-gc');
  return runInNewContext('gc') as () => void;
}
