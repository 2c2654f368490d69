import { availableParallelism } from 'node:os';
import { Worker } from 'node:worker_threads';
import type { Crew } from '@muted-pond/core/pixels';
import { type CrewWork, startWork } from '@muted-pond/core/render';
import { THREAD_ARGV, THREAD_ENDING } from '../threads/index.js';

/** What a hand of the crew is told. All arrays lie in shared memory. */
export interface CrewMessage {
  readonly work: CrewWork;
  readonly parts: number;
  /** Two whole numbers: the next part that nobody has taken, and how many are done. */
  readonly counters: Int32Array;
}

export const NEXT = 0;
export const DONE = 1;

/** Longest wait for parts that others have taken, ms. */
const LONGEST_WAIT_MS = 60_000;
const WORKER = new URL(`./crew.worker.${THREAD_ENDING}`, import.meta.url);

let hands: Worker[] | null = null;

/** Starts the other threads ahead, so that they are ready when there is work. They end with this one. */
export function callCrew(): Crew {
  hands ??= Array.from({ length: availableParallelism() - 1 }, () => {
    const hand = new Worker(WORKER, { execArgv: THREAD_ARGV });
    hand.unref();
    // This thread does all that a lost hand has not taken.
    hand.on('error', () => {
      hands = hands?.filter((other) => other !== hand) ?? null;
    });
    return hand;
  });
  return crew;
}

const crew: Crew = {
  allocate: (bytes) => new SharedArrayBuffer(bytes),
  run: (job, parts, start) => runTogether(job as unknown as CrewWork, parts, start(job)),
};

/** Everyone takes the next part until none is left; this thread takes part and waits for the last ones. */
function runTogether(work: CrewWork, parts: number, doPart: (part: number) => void): void {
  const counters = new Int32Array(new SharedArrayBuffer(8));
  const message: CrewMessage = { work, parts, counters };
  for (const hand of hands ?? []) hand.postMessage(message);
  takeParts(message, () => doPart);
  for (let done = Atomics.load(counters, DONE); done < parts; done = Atomics.load(counters, DONE)) {
    if (Atomics.wait(counters, DONE, done, LONGEST_WAIT_MS) === 'timed-out') {
      throw new Error('A thread that shares the work does not answer.');
    }
  }
}

export function takeParts(
  { work, parts, counters }: CrewMessage,
  start: (work: CrewWork) => (part: number) => void = startWork,
): void {
  let doPart: ((part: number) => void) | null = null;
  for (let part = Atomics.add(counters, NEXT, 1); part < parts; part = Atomics.add(counters, NEXT, 1)) {
    doPart ??= start(work);
    doPart(part);
    Atomics.add(counters, DONE, 1);
    Atomics.notify(counters, DONE);
  }
}
