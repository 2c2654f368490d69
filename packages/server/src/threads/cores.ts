import { availableParallelism } from 'node:os';

export const CORES = Math.max(1, availableParallelism());

/**
 * How many jobs run now, in memory that the main thread keeps up to date; null where there is only this one.
 */
let running: Int32Array | null = null;

/** @param counter one whole number in shared memory. */
export function shareCoresWith(counter: Int32Array): void {
  running = counter;
}

/** The cores that this job may keep busy: all of them, or its part while others run. */
export function coresForThisJob(): number {
  const jobs = running ? Atomics.load(running, 0) : 1;
  return Math.max(1, Math.floor(CORES / Math.max(1, jobs)));
}
