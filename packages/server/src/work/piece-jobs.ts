import { Logger } from '@nestjs/common';
import { toProblem } from '../problems/index.js';

/** What everyone is told of a job. */
export interface JobView {
  readonly piece: string;
  readonly state: 'working' | 'done' | 'failed';
  readonly problem: string | null;
}

interface Job<View> {
  view: View;
  readonly abort: AbortController;
}

/** Changes what is known of a job. @param tell whether others are told at once. */
export type ChangeJob<View> = (part: Partial<View>, tell?: boolean) => void;

/** Jobs of which each piece has one at a time: a new one ends the one before. The last one's outcome is remembered. */
export class PieceJobs<View extends JobView> {
  private readonly jobs = new Map<string, Job<View>>();
  private readonly log: Logger;

  constructor(
    name: string,
    private readonly tell: (view: View) => void,
  ) {
    this.log = new Logger(name);
  }

  /** Begins; what goes wrong is told. */
  begin(first: View, run: (signal: AbortSignal, change: ChangeJob<View>) => Promise<void>): View {
    const { piece } = first;
    this.jobs.get(piece)?.abort.abort();
    const job: Job<View> = { view: first, abort: new AbortController() };
    this.jobs.set(piece, job);
    const { signal } = job.abort;
    const change: ChangeJob<View> = (part, tell = true) => {
      if (signal.aborted) return;
      job.view = { ...job.view, ...part };
      if (tell) this.tell(job.view);
    };
    run(signal, change).catch((error: unknown) => {
      if (signal.aborted) return; // whoever stopped it has seen to it
      this.log.error(error instanceof Error ? error.stack : String(error));
      change({ state: 'failed', problem: toProblem(error).message } as Partial<View>);
    });
    return first;
  }

  last(piece: string): View | null {
    return this.jobs.get(piece)?.view ?? null;
  }

  stop(piece: string): void {
    this.jobs.get(piece)?.abort.abort();
    this.jobs.delete(piece);
  }

  stopAll(): void {
    for (const { abort } of this.jobs.values()) abort.abort();
  }
}
