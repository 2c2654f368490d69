import { availableParallelism } from 'node:os';
import type { Worker } from 'node:worker_threads';
import type { Crew } from '@muted-pond/core/pixels';
import { type CrewWork, startWork } from '@muted-pond/core/render';
import { startThread, THREAD_ENDING } from '../threads/index.js';

/** What a hand of the crew is told. All arrays lie in shared memory. */
export interface CrewMessage {
  readonly work: CrewWork;
  readonly parts: number;
  /** Whole numbers: the next part that nobody has taken, how many are done, and how long a complaint there is. */
  readonly counters: Int32Array;
  /** Why a part could not be done, UTF-8. */
  readonly complaint: Uint8Array;
}

export const NEXT = 0;
export const DONE = 1;
export const COMPLAINT = 2;
const COUNTERS = 3;
const LONGEST_COMPLAINT = 2000;

/** Longest wait for parts that others have taken, ms. */
const LONGEST_WAIT_MS = 60_000;
const WORKER = new URL(`./crew.worker.${THREAD_ENDING}`, import.meta.url);

let hands: Worker[] | null = null;

/** Starts the other threads ahead, so that they are ready when there is work. They end with this one. */
export function callCrew(): Crew {
  hands ??= startHands(availableParallelism() - 1);
  return crew;
}

/** @param onReady is called as often as a thread has begun to listen. */
export function startHands(count: number, onReady: () => void = () => {}): Worker[] {
  return Array.from({ length: count }, () => {
    const hand = startThread(WORKER);
    hand.unref();
    hand.once('message', onReady);
    // This thread does all that a lost hand has not taken.
    hand.on('error', () => {
      hands = hands?.filter((other) => other !== hand) ?? null;
    });
    return hand;
  });
}

const crew: Crew = {
  allocate: (bytes) => new SharedArrayBuffer(bytes),
  run: (job, parts, start) =>
    runTogether(newMessage(job as unknown as CrewWork, parts), start(job), hands ?? []),
};

export function newMessage(work: CrewWork, parts: number): CrewMessage {
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
  message: CrewMessage,
  doPart: (part: number) => void,
  others: readonly Worker[],
): void {
  const { parts, counters, complaint } = message;
  for (const hand of others) hand.postMessage(message);
  takeParts(message, () => doPart);
  for (let done = Atomics.load(counters, DONE); done < parts; done = Atomics.load(counters, DONE)) {
    if (Atomics.wait(counters, DONE, done, LONGEST_WAIT_MS) === 'timed-out') {
      throw new Error('A thread that shares the work does not answer.');
    }
  }
  const length = Atomics.load(counters, COMPLAINT);
  if (length > 0) throw new Error(new TextDecoder().decode(complaint.slice(0, length)));
}

/** A part that goes wrong counts as done, and says why: whoever waits for it then hears of it at once. */
export function takeParts(
  { work, parts, counters, complaint }: CrewMessage,
  start: (work: CrewWork) => (part: number) => void = startWork,
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
