import type { TrialProgress } from '@muted-pond/core/api';
import type { MakingProgress } from '../making/index.js';

/** A finished file that is still being measured: it can be seen already. */
export type UnmeasuredFile = NonNullable<MakingProgress['file']> & { readonly mime: string };

/** How much somebody waits for a file. */
export const MAKING_PRIORITIES = ['trial', 'batch'] as const;
export type MakingPriority = (typeof MAKING_PRIORITIES)[number];

/** One making of a trial's file. A trial that is made anew has another one. */
export interface Making {
  readonly trial: string;
  readonly priority: MakingPriority;
  /** Null until it stands in the queue. */
  job: string | null;
  progress: Pick<MakingProgress, 'done' | 'doing'>;
  file: UnmeasuredFile | null;
  /** It does not wait for its turn any more. */
  isRunning: boolean;
}

/**
 * The trials in the making, and how far each is. Messages of a making that has ended are ignored: only the
 * newest making of a trial is known here.
 */
export class TrialsInProgress {
  private readonly newest = new Map<string, Making>();

  begin(trial: string, priority: MakingPriority, job: string | null = null): Making {
    const making: Making = {
      ...{ trial, priority, job, file: null, isRunning: false },
      progress: { done: 0, doing: 'waiting for its turn' },
    };
    this.newest.set(trial, making);
    return making;
  }

  /** The making of a trial; a new one where it waited through a stop of the server. */
  takeUp(
    trial: string,
    { job, priority }: { readonly job: string; readonly priority: MakingPriority },
  ): Making {
    const making = this.newest.get(trial) ?? this.begin(trial, priority, job);
    making.isRunning = true;
    return making;
  }

  /** Whether one waits for its turn with this priority. */
  isWaitingAs(priority: MakingPriority, trial: string): boolean {
    const making = this.newest.get(trial);
    return making?.priority === priority && !making.isRunning;
  }

  has(trial: string): boolean {
    return this.newest.has(trial);
  }

  isNewest(making: Making): boolean {
    return this.newest.get(making.trial) === making;
  }

  /** It has ended, and what came of it is written down. */
  end(making: Making): void {
    if (this.isNewest(making)) this.newest.delete(making.trial);
  }

  /** Forgets the newest making of a trial. @returns the job that makes it; null where there is none. */
  forget(trial: string): string | null {
    const job = this.newest.get(trial)?.job ?? null;
    this.newest.delete(trial);
    return job;
  }

  /** The file of a trial that is still being measured; null where it is not there yet, or is measured. */
  unmeasuredFile(trial: string): UnmeasuredFile | null {
    return this.newest.get(trial)?.file ?? null;
  }

  progressOf(trial: string): TrialProgress | null {
    const making = this.newest.get(trial);
    if (!making) return null;
    const { progress, file } = making;
    return file
      ? { ...progress, file: { kind: file.kind, ...file.size, bytes: file.bytes.length } }
      : progress;
  }
}
