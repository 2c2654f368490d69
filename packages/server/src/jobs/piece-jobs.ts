import type { JobView } from '@muted-pond/core/api';
import { Logger } from '@nestjs/common';
import { problemSentence } from '../problems/index.js';
import type { Jobs } from './jobs.service.js';
import { nextRevision } from './revision.js';
import type { Priority } from './task-queue.js';

/** The part of a view that every job has. */
type ToldJob = Pick<JobView, 'piece' | 'state' | 'problem' | 'revision'>;

/** Changes what is known of a job. @param tell whether others are told at once. */
export type ChangeJob<View> = (part: Partial<View>, tell?: boolean) => void;

export interface PieceJobKind<Payload, View extends ToldJob> {
  readonly name: string;
  readonly priority: Priority;
  /** What is told before it has begun. */
  first(piece: string, payload: Payload): Omit<View, 'revision'>;
  run(piece: string, payload: Payload, signal: AbortSignal, change: ChangeJob<View>): Promise<void>;
  tell(view: View): void;
}

interface PiecePayload<Payload> {
  readonly piece: string;
  readonly of: Payload;
}

/**
 * Jobs of which each piece has one at a time: a new one ends the one before. The last one's outcome is kept.
 */
export class PieceJobs<Payload, View extends ToldJob> {
  /** What is told now, and the job that it is told of; no id once it has ended. */
  private readonly views = new Map<string, { view: View; id: string | null }>();
  private readonly log: Logger;

  constructor(
    private readonly jobs: Jobs,
    private readonly kind: PieceJobKind<Payload, View>,
  ) {
    this.log = new Logger(kind.name);
    jobs.define<PiecePayload<Payload>>({
      name: kind.name,
      priority: kind.priority,
      run: ({ piece, of }, { id, signal }) => this.run(piece, of, id, signal),
      interrupted: async ({ piece, of }) => {
        const problem = 'The server stopped while this was made. Begin it again.';
        const view = { ...this.first(piece, of), state: 'failed' as const, problem };
        await this.end(piece, of, view);
        kind.tell(view);
      },
    });
  }

  /** Begins; what goes wrong is told. */
  async begin(piece: string, payload: Payload): Promise<View> {
    const first = this.first(piece, payload);
    await this.stop(piece);
    const entry = { view: first, id: null as string | null };
    this.views.set(piece, entry);
    const { id } = await this.jobs.add<PiecePayload<Payload>>(this.kind.name, piece, { piece, of: payload });
    // A newer one, or a stop, may have come meanwhile.
    if (this.views.get(piece) !== entry) await this.jobs.stop(id);
    else if (entry.view.state === 'working') entry.id = id;
    return entry.view;
  }

  /** What was told last, also before the last start of the server. */
  async last(piece: string): Promise<View | null> {
    const kept = this.views.get(piece)?.view ?? (await this.jobs.keptView(this.kind.name, piece));
    // Those that earlier versions kept have none.
    return kept ? ({ revision: 0, ...kept } as View) : null;
  }

  /** What is being worked on now. */
  current(piece: string): View | null {
    return this.views.get(piece)?.view ?? null;
  }

  async stop(piece: string): Promise<void> {
    const id = this.views.get(piece)?.id;
    this.views.delete(piece);
    if (id) await this.jobs.stop(id);
    await this.jobs.forgetView(this.kind.name, piece);
  }

  private first(piece: string, payload: Payload): View {
    return { ...this.kind.first(piece, payload), revision: nextRevision() } as View;
  }

  private async run(piece: string, payload: Payload, id: string, signal: AbortSignal): Promise<void> {
    if (signal.aborted) return;
    // One that waited through a stop of the server is not known here yet.
    const entry = this.views.get(piece) ?? { view: this.first(piece, payload), id };
    this.views.set(piece, entry);
    const change: ChangeJob<View> = (part, tell = true) => {
      if (signal.aborted) return;
      entry.view = { ...entry.view, ...part, revision: nextRevision() };
      if (tell) this.kind.tell(entry.view);
    };
    try {
      await this.kind.run(piece, payload, signal, change);
    } catch (error) {
      if (signal.aborted) return; // whoever stopped it has seen to it
      change({ state: 'failed', problem: problemSentence(error, this.log) } as Partial<View>);
    }
    if (!signal.aborted && this.views.get(piece) === entry) await this.end(piece, payload, entry.view);
  }

  private async end(piece: string, payload: Payload, view: View): Promise<void> {
    this.views.set(piece, { view, id: null });
    await this.jobs.keepView(this.kind.name, piece, payload, view);
  }
}
