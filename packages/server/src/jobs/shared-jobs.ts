import { Inject, Injectable, type OnApplicationShutdown } from '@nestjs/common';
import { JobQueues } from './job-queues.js';
import { Jobs } from './jobs.service.js';
import { PRIORITY, type Priority } from './task-queue.js';

export interface SharedWork<Result> {
  /** The result's name, unique in the whole application. */
  readonly key: string;
  /** Whose turn it takes: the hash of the footage, or the id of the piece. */
  readonly owner: string;
  readonly queue: keyof JobQueues;
  /** `hand` where it is left out. */
  readonly priority?: Priority;
  run(turn: SharedTurn): Promise<Result>;
}

export interface SharedTurn {
  /** Aborted when the server stops. */
  readonly signal: AbortSignal;
  /** The highest that the result was asked for at before its turn came. */
  readonly priority: Priority;
}

interface SharedJob {
  priority: Priority;
  readonly ended: Promise<unknown>;
  /** Runs the job, unless it has begun. */
  begin(): Promise<void>;
}

/**
 * Jobs whose result belongs to a file rather than to a piece: whoever asks for a result that is being made gets
 * the same one. They have no row: their results are kept in the cache, and made when they are asked for again
 * after a stop of the server.
 */
@Injectable()
export class SharedJobs implements OnApplicationShutdown {
  private readonly jobs = new Map<string, SharedJob>();
  private readonly closing = new AbortController();

  constructor(
    @Inject(JobQueues) private readonly queues: JobQueues,
    @Inject(Jobs) private readonly rows: Pick<Jobs, 'makeWayFor'>,
  ) {}

  onApplicationShutdown(): void {
    this.closing.abort();
  }

  /**
   * The result, made now or by somebody who asked before. A job that still waits moves up when it is asked for
   * at a higher priority.
   * @throws what the work throws.
   */
  run<Result>(work: SharedWork<Result>): Promise<Result> {
    const { key, priority = 'hand' } = work;
    const there = this.jobs.get(key);
    const job = there ?? this.create(work, priority);
    if (!there || PRIORITY[priority] > PRIORITY[job.priority]) {
      job.priority = priority;
      // An earlier place in the queue is left as it is: it finds the job begun.
      void this.queues[work.queue].run(() => job.begin(), priority, work.owner);
      if (work.queue === 'threads') this.rows.makeWayFor(priority);
    }
    return job.ended as Promise<Result>;
  }

  /**
   * The same where nobody waits for the result.
   * @param onFailure is told what went wrong, unless the server is being stopped.
   */
  async prepare(work: SharedWork<void>, onFailure: (error: unknown) => void): Promise<void> {
    await this.run(work).catch((error: unknown) => {
      if (!this.closing.signal.aborted) onFailure(error);
    });
  }

  private create<Result>({ key, run }: SharedWork<Result>, priority: Priority): SharedJob {
    const { signal } = this.closing;
    let hasBegun = false;
    let settle: (result: Promise<Result>) => void = () => {};
    const ended = new Promise<Result>((resolve) => {
      settle = resolve;
    }).finally(() => this.jobs.delete(key));
    const job: SharedJob = {
      ...{ priority, ended },
      begin: async () => {
        if (hasBegun) return;
        hasBegun = true;
        const result = signal.aborted
          ? Promise.reject(signal.reason)
          : run({ signal, priority: job.priority });
        settle(result);
        await result.catch(() => {});
      },
    };
    this.jobs.set(key, job);
    return job;
  }
}
