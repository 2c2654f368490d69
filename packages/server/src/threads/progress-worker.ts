import type { MessagePort } from 'node:worker_threads';
import { UserError, type UserErrorCode } from '@muted-pond/core/errors';
import { diskFull, isDiskFull } from '../disk-full.js';
import { type JobContext, runInContext, Stopped } from '../job-context/index.js';
import { collectSoon } from './collect-garbage.js';
import { shareCoresWith } from './cores.js';

/** A failure a person can be told of crosses the thread border as a value; anything else is thrown. */
export type Outcome<Result> =
  | { readonly type: 'made'; readonly made: Result }
  | { readonly type: 'refused'; readonly code: UserErrorCode; readonly message: string }
  /** It was asked to stop, and did. */
  | { readonly type: 'stopped' };

/** What a job tells on its port. */
export type JobMessage<Progress> =
  | { readonly type: 'progress'; readonly progress: Progress }
  | { readonly type: 'child'; readonly pid: number; readonly state: 'started' | 'ended' };

/** Sent along with every job of a `progressWorker`. */
export interface ProgressPort {
  readonly port: MessagePort;
  /** One whole number in shared memory: not 0 when the job is to stop. A message on the port says so too. */
  readonly stop: Int32Array;
  /** The folder for what the job writes on the way. */
  readonly scratch: string;
  /** One whole number in shared memory: how many jobs run. */
  readonly running: Int32Array;
}

/** What a worker's file exports for a job that tells of its progress. */
export type ProgressWorker<Task, Result> = (task: Task & ProgressPort) => Promise<Outcome<Result>>;

/**
 * Runs a job, tells of it, and ends the port. The job stops where it next tells of its progress after it was
 * asked to, and the child processes that it waits for are ended at once: the thread lives on, with all that it
 * has decoded.
 */
export function progressWorker<Task extends object, Progress, Result>(
  job: (task: Task, onProgress: (progress: Progress) => void) => Promise<Result>,
): ProgressWorker<Task, Result> {
  return async ({ port, stop, running, scratch, ...task }) => {
    shareCoresWith(running);
    const stopped = new AbortController();
    // Heard while the job waits; while it computes, nothing is heard, and the shared number says it.
    port.on('message', () => stopped.abort(new Stopped()));
    const goOn = () => {
      if (Atomics.load(stop, 0) !== 0) throw new Stopped();
    };
    try {
      goOn();
      const tell = (message: JobMessage<Progress>) => port.postMessage(message);
      const context: JobContext = {
        ...{ signal: stopped.signal, scratch },
        onChild: (pid, state) => tell({ type: 'child', pid, state }),
      };
      const made = await runInContext(context, () =>
        job(task as unknown as Task, (progress) => {
          goOn();
          tell({ type: 'progress', progress });
        }),
      );
      return { type: 'made', made };
    } catch (error) {
      if (error instanceof Stopped || stopped.signal.aborted) return { type: 'stopped' };
      // A code of the system would be lost on the way to the main thread.
      const told = isDiskFull(error) ? diskFull() : error;
      if (told instanceof UserError) return { type: 'refused', code: told.code, message: told.message };
      throw error;
    } finally {
      port.close();
      collectSoon();
    }
  };
}
