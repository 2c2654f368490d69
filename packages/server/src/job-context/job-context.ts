import { AsyncLocalStorage } from 'node:async_hooks';

/** What a job's own code may ask of the job, however deep it is called. */
export interface JobContext {
  /** Aborted when the job is to stop; the reason is a Stopped. */
  readonly signal: AbortSignal;
  /** A folder that whoever started the job removes when it has ended, whichever way; it may not be there yet. */
  readonly scratch: string;
  /** Tells whoever started the job of a child process, and that it has ended. */
  onChild(pid: number, state: 'started' | 'ended'): void;
}

/** Thrown where a job that was asked to stop does so. */
export class Stopped extends Error {
  override readonly name = 'Stopped';
}

const contexts = new AsyncLocalStorage<JobContext>();

export function runInContext<Result>(context: JobContext, work: () => Promise<Result>): Promise<Result> {
  return contexts.run(context, work);
}

/** Runs what several jobs share: stopping the one that began it does not end it for the others. */
export function runOutsideJobs<Result>(work: () => Result): Result {
  return contexts.exit(work);
}

/** The job that is being run; null outside of any. */
export function currentJob(): JobContext | null {
  return contexts.getStore() ?? null;
}
