import { availableParallelism } from 'node:os';
import { Worker } from 'node:worker_threads';
import { createSettleStrip, type StripCrew, type StripWork } from '@muted-pond/core/settle';
import { THREAD_ARGV, THREAD_ENDING } from '../threads/index.js';

/** What a hand of the crew is told. All arrays lie in shared memory. */
export interface CrewMessage {
  readonly work: StripWork;
  readonly strips: number;
  /** Two whole numbers: the next strip that nobody has taken, and how many are done. */
  readonly counters: Int32Array;
}

export const NEXT = 0;
export const DONE = 1;

/** Longest wait for strips that others have taken, ms. */
const LONGEST_WAIT_MS = 60_000;
const WORKER = new URL(`./settle-crew.worker.${THREAD_ENDING}`, import.meta.url);

let hands: Worker[] | null = null;

/** Starts the other threads ahead, so that they are ready when there is work. They end with this one. */
export function callCrew(): StripCrew {
  hands ??= Array.from({ length: availableParallelism() - 1 }, () => {
    const hand = new Worker(WORKER, { execArgv: THREAD_ARGV });
    hand.unref();
    // This thread does all that a lost hand has not taken.
    hand.on('error', () => {
      hands = hands?.filter((other) => other !== hand) ?? null;
    });
    return hand;
  });
  return { allocate: (bytes) => new SharedArrayBuffer(bytes), run: runTogether };
}

/** Everyone takes the next strip until none is left; this thread takes part and waits for the last ones. */
function runTogether(work: StripWork, strips: number): void {
  const counters = new Int32Array(new SharedArrayBuffer(8));
  const message: CrewMessage = { work, strips, counters };
  for (const hand of hands ?? []) hand.postMessage(message);
  takeStrips(message);
  for (let done = Atomics.load(counters, DONE); done < strips; done = Atomics.load(counters, DONE)) {
    if (Atomics.wait(counters, DONE, done, LONGEST_WAIT_MS) === 'timed-out') {
      throw new Error('A thread that was settling pixels does not answer.');
    }
  }
}

export function takeStrips({ work, strips, counters }: CrewMessage): void {
  let settleStrip: ((strip: number) => void) | null = null;
  for (let strip = Atomics.add(counters, NEXT, 1); strip < strips; strip = Atomics.add(counters, NEXT, 1)) {
    settleStrip ??= createSettleStrip(work);
    settleStrip(strip);
    Atomics.add(counters, DONE, 1);
    Atomics.notify(counters, DONE);
  }
}
