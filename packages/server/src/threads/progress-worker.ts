import type { MessagePort } from 'node:worker_threads';
import { UserError, type UserErrorCode } from '@muted-pond/core/errors';
import { collectSoon } from './collect-garbage.js';
import { shareCoresWith } from './cores.js';

/** A failure a person can be told of crosses the thread border as a value; anything else is thrown. */
export type Outcome<Result> =
  | { readonly type: 'made'; readonly made: Result }
  | { readonly type: 'refused'; readonly code: UserErrorCode; readonly message: string }
  /** It was asked to stop, and did. */
  | { readonly type: 'stopped' };

/** What travels with every told job. */
export interface ProgressPort {
  readonly port: MessagePort;
  /** One whole number in shared memory: not 0 when the job is to stop. */
  readonly stop: Int32Array;
  /** One whole number in shared memory: how many jobs run. */
  readonly running: Int32Array;
}

/** What a worker's file exports for a job that tells of its progress. */
export type ProgressWorker<Task, Result> = (task: Task & ProgressPort) => Promise<Outcome<Result>>;

class Stopped extends Error {
  override readonly name = 'Stopped';
}

/**
 * Runs a job, tells of it, and ends the port. The job stops where it next tells of its progress after it was
 * asked to: the thread lives on, with all that it has decoded.
 */
export function progressWorker<Task extends object, Progress, Result>(
  job: (task: Task, onProgress: (progress: Progress) => void) => Promise<Result>,
): ProgressWorker<Task, Result> {
  return async ({ port, stop, running, ...task }) => {
    shareCoresWith(running);
    const goOn = () => {
      if (Atomics.load(stop, 0) !== 0) throw new Stopped();
    };
    try {
      goOn();
      const made = await job(task as unknown as Task, (progress) => {
        goOn();
        port.postMessage(progress);
      });
      return { type: 'made', made };
    } catch (error) {
      if (error instanceof Stopped) return { type: 'stopped' };
      if (error instanceof UserError) return { type: 'refused', code: error.code, message: error.message };
      throw error;
    } finally {
      port.close();
      collectSoon();
    }
  };
}
