import type { Worker } from 'node:worker_threads';
import { type ParallelWork, startWork } from '@muted-pond/core/parallel';
import type { ThreadPool } from '@muted-pond/core/pixels';
import { startThread, THREAD_ENDING } from '../processes/index.js';
import { collectNow } from './collect-garbage.js';
import { coresForThisJob } from './cores.js';

/** The message to a helper thread. All arrays lie in shared memory. */
export interface HelperMessage {
  readonly work: ParallelWork;
  readonly parts: number;
  /**
   * Whole numbers: the next part that nobody has taken, how many are done, and the length of the error
   * message.
   */
  readonly counters: Int32Array;
  /** The error message of a part that failed, UTF-8. */
  readonly complaint: Uint8Array;
}

/** Sent to a helper instead of work: collect garbage. */
export const COLLECT = 'collect';

export const NEXT = 0;
export const DONE = 1;
export const COMPLAINT = 2;
const COUNTERS = 3;
const LONGEST_COMPLAINT = 2000;

/** Longest wait for parts that others have taken, ms. */
const LONGEST_WAIT_MS = 60_000;
const WORKER = new URL(`./helper.worker.${THREAD_ENDING}`, import.meta.url);

/** The helpers of this thread. They end with it. */
const helpers: Worker[] = [];

/** Starts the helpers of this job ahead, so that they are ready when there is work. */
export function helperThreads(): ThreadPool {
  helpersOfThisJob();
  return threads;
}

/**
 * One helper less than this job has cores. Those that are missing are started: while all cores are shared by
 * several jobs, each thread of the pool has only its part.
 */
export function helpersOfThisJob(): readonly Worker[] {
  const wanted = coresForThisJob() - 1;
  if (helpers.length < wanted) helpers.push(...startHelpers(wanted - helpers.length));
  return helpers.slice(0, wanted);
}

/**
 * Collects garbage in this thread and its helpers: shared memory is freed once every thread that held it has
 * collected.
 */
export function collectEverywhere(): void {
  for (const helper of helpers) helper.postMessage(COLLECT);
  collectNow();
}

/** @param onReady is called as often as a thread has begun to listen. */
export function startHelpers(count: number, onReady: () => void = () => {}): Worker[] {
  return Array.from({ length: count }, () => {
    const helper = startThread(WORKER);
    helper.unref();
    helper.once('message', onReady);
    // This thread does all that a lost helper has not taken.
    helper.on('error', () => {
      const place = helpers.indexOf(helper);
      if (place >= 0) helpers.splice(place, 1);
    });
    return helper;
  });
}

const threads: ThreadPool = {
  allocate: (bytes) => new SharedArrayBuffer(bytes),
  run: (job, parts, start) =>
    runTogether(newMessage(job as unknown as ParallelWork, parts), start(job), helpersOfThisJob()),
};

export function newMessage(work: ParallelWork, parts: number): HelperMessage {
  return {
    work,
    parts,
    counters: new Int32Array(new SharedArrayBuffer(4 * COUNTERS)),
    complaint: new Uint8Array(new SharedArrayBuffer(LONGEST_COMPLAINT)),
  };
}

/**
 * Everyone takes the next part until none is left; this thread takes part and waits for the last ones.
 * @throws Error when a part could not be done, with what was wrong there.
 */
export function runTogether(
  message: HelperMessage,
  doPart: (part: number) => void,
  others: readonly Worker[],
): void {
  const { parts, counters, complaint } = message;
  for (const helper of others) helper.postMessage(message);
  takeParts(message, () => doPart);
  for (let done = Atomics.load(counters, DONE); done < parts; done = Atomics.load(counters, DONE)) {
    if (Atomics.wait(counters, DONE, done, LONGEST_WAIT_MS) === 'timed-out') {
      throw new Error('A thread that shares the work does not answer.');
    }
  }
  const length = Atomics.load(counters, COMPLAINT);
  if (length > 0) throw new Error(new TextDecoder().decode(complaint.slice(0, length)));
}

/**
 * A part that fails counts as done and leaves its error message, so that the waiting thread hears of it at
 * once.
 */
export function takeParts(
  { work, parts, counters, complaint }: HelperMessage,
  start: (work: ParallelWork) => (part: number) => void = startWork,
): void {
  let doPart: ((part: number) => void) | null = null;
  for (let part = Atomics.add(counters, NEXT, 1); part < parts; part = Atomics.add(counters, NEXT, 1)) {
    try {
      doPart ??= start(work);
      doPart(part);
    } catch (error) {
      const text = new TextEncoder().encode(messageOf(error));
      complaint.set(text);
      Atomics.store(counters, COMPLAINT, text.length);
      // Nothing that the others still do can be used.
      const left = parts - Math.min(parts, Atomics.exchange(counters, NEXT, parts));
      Atomics.add(counters, DONE, left);
    }
    Atomics.add(counters, DONE, 1);
    Atomics.notify(counters, DONE);
  }
}

function messageOf(error: unknown): string {
  const text = error instanceof Error ? (error.stack ?? error.message) : String(error);
  // A character takes up to four bytes.
  return text.slice(0, LONGEST_COMPLAINT / 4) || 'It gave no reason.';
}
