import type { MessagePort } from 'node:worker_threads';
import { MediaError } from '../media/index.js';

/** A failure a person can be told of crosses the thread border as a value; anything else is thrown. */
export type Told<Result> =
  | { readonly type: 'made'; readonly made: Result }
  | { readonly type: 'refused'; readonly message: string };

/** What a worker's file exports for a job that tells of its progress. */
export type ToldWorker<Task, Result> = (task: Task & { readonly port: MessagePort }) => Promise<Told<Result>>;

/** Runs a job, tells of it, and ends the port. */
export function toldWorker<Task extends object, Progress, Result>(
  job: (task: Task, onProgress: (progress: Progress) => void) => Promise<Result>,
): ToldWorker<Task, Result> {
  return async ({ port, ...task }) => {
    try {
      const made = await job(task as unknown as Task, (progress) => port.postMessage(progress));
      return { type: 'made', made };
    } catch (error) {
      if (error instanceof MediaError || error instanceof RangeError) {
        return { type: 'refused', message: error.message };
      }
      throw error;
    } finally {
      port.close();
    }
  };
}
