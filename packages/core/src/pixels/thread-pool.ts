import { createFrame, type PixelFrame } from './frame.js';

/**
 * Work that falls into parts, as plain data over shared arrays: any thread that is given it can do any part.
 */
export interface ParallelJob<Kind extends string = string> {
  readonly kind: Kind;
}

/** Makes one thread ready for a job. @returns what does a part, by its number from 0. */
export type StartJob<Job extends ParallelJob> = (job: Job) => (part: number) => void;

/**
 * Threads that share work. The result must not depend on which thread does which part, nor on their order.
 */
export interface ThreadPool {
  /** Fresh memory that every thread can see. */
  allocate(bytes: number): ArrayBufferLike;
  /**
   * Runs every part once, in any order and on any number of threads, and returns when all are done. Other
   * threads find `start` by the job's kind.
   */
  run<Job extends ParallelJob>(job: Job, parts: number, start: StartJob<Job>): void;
}

/** One thread, part after part. */
export const SINGLE_THREAD: ThreadPool = {
  allocate: (bytes) => new ArrayBuffer(bytes),
  run(job, parts, start) {
    const doPart = start(job);
    for (let part = 0; part < parts; part++) doPart(part);
  },
};

/** A copy for the engine to use up, where all its threads see it. */
export function copyToShared({ width, height, rgba }: PixelFrame, threads: ThreadPool): PixelFrame {
  const copy = new Uint8Array(threads.allocate(rgba.length));
  copy.set(rgba);
  return createFrame(width, height, copy);
}
