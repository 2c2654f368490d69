import { randomUUID } from 'node:crypto';
import {
  Inject,
  Injectable,
  Logger,
  type OnApplicationBootstrap,
  type OnApplicationShutdown,
} from '@nestjs/common';
import { InjectRepository } from '@nestjs/typeorm';
import { In, type Repository } from 'typeorm';
import { errorText } from '../problems/index.js';
import { Job } from './job.entity.js';
import { JobQueues } from './job-queues.js';
import { PRIORITY, type Priority } from './task-queue.js';

/** A kind of job, as it is registered. */
export interface JobKind<Payload> {
  readonly name: string;
  readonly priority: Priority;
  /** Stopped whenever something of a higher priority comes, and taken up again behind it. */
  readonly yields?: boolean;
  /** Runs the job. The job reports its own failures; what it throws is logged. */
  run(payload: Payload, job: RunningJob): Promise<void>;
  /** Called at the next start for a job that ran when the server stopped. */
  interrupted(payload: Payload, id: string): Promise<void>;
}

export interface RunningJob {
  readonly id: string;
  readonly signal: AbortSignal;
}

interface Active {
  readonly kind: JobKind<unknown>;
  readonly abort: AbortController;
  readonly ended: Promise<void>;
  /** It yields to jobs of a higher priority, and is queued again behind them. */
  yielding: AbortController | null;
}

/**
 * All that takes long and makes something for a piece: each job is a row, so that it survives a stop of the
 * server. What waits then goes on at the next start; what was being worked on is told to have ended. As many
 * run at once as there are cores.
 */
@Injectable()
export class Jobs implements OnApplicationBootstrap, OnApplicationShutdown {
  private readonly log = new Logger('jobs');
  private readonly kinds = new Map<string, JobKind<unknown>>();
  private readonly active = new Map<string, Active>();
  private closed = false;

  constructor(
    @InjectRepository(Job) private readonly rows: Repository<Job>,
    @Inject(JobQueues) private readonly queues: JobQueues,
  ) {}

  /** Registers a kind; to be called before the application starts. */
  define<Payload>(kind: JobKind<Payload>): void {
    this.kinds.set(kind.name, kind as JobKind<unknown>);
  }

  async onApplicationBootstrap(): Promise<void> {
    const rows = await this.rows.find({
      where: { state: In(['waiting', 'working']) },
      order: { createdAt: 'ASC' },
    });
    for (const row of rows) {
      const kind = this.kinds.get(row.kind);
      if (kind && row.state === 'waiting') {
        this.start(row, kind);
        continue;
      }
      await this.rows.delete(row.id);
      try {
        await kind?.interrupted(row.payload, row.id);
      } catch (error) {
        // What an earlier version wrote down must not keep this one from starting.
        this.log.error(`An interrupted job (${row.kind}) could not be told of: ${error}`);
      }
    }
  }

  onApplicationShutdown(): void {
    // Rows stay as they are: the next start reads them.
    this.closed = true;
    for (const { abort, yielding } of this.active.values()) {
      abort.abort();
      yielding?.abort();
    }
  }

  /** Adds a job. @returns its id, and a promise for its end, whichever way it ends. */
  async add<Payload>(
    kindName: string,
    piece: string,
    payload: Payload,
  ): Promise<{ id: string; ended: Promise<void> }> {
    const kind = this.kinds.get(kindName);
    if (!kind) throw new Error(`There is no kind of job “${kindName}”.`);
    const row: Job = {
      ...{ id: randomUUID(), kind: kindName, pieceId: piece, state: 'waiting', payload, view: null },
      createdAt: new Date().toISOString(),
    };
    await this.rows.insert(row as never);
    return { id: row.id, ended: this.start(row, kind).ended };
  }

  /** Ends a job, or sees to it that it never begins. */
  async stop(id: string): Promise<void> {
    const active = this.active.get(id);
    active?.abort.abort();
    active?.yielding?.abort();
    await this.rows.delete(id);
  }

  /** What waits or is being worked on. */
  async payloads<Payload>(kind: string): Promise<Payload[]> {
    const rows = await this.rows.findBy({ kind, state: In(['waiting', 'working']) });
    return rows.map(({ payload }) => payload as Payload);
  }

  /** Keeps what is told of a job that has ended, in the place of what was told of the one before. */
  async keepView(kind: string, piece: string, payload: unknown, view: unknown): Promise<void> {
    const id = `${kind}/${piece}`;
    const row = { id, kind, pieceId: piece, state: 'ended' as const, payload, view };
    await this.rows.save({ ...row, createdAt: new Date().toISOString() } as never);
  }

  async keptView(kind: string, piece: string): Promise<unknown> {
    return (await this.rows.findOneBy({ id: `${kind}/${piece}` }))?.view ?? null;
  }

  async forgetView(kind: string, piece: string): Promise<void> {
    await this.rows.delete(`${kind}/${piece}`);
  }

  private start(row: Job, kind: JobKind<unknown>): Active {
    const abort = new AbortController();
    const active: Active = {
      ...{ kind, abort, yielding: null },
      ended: Promise.resolve(),
    };
    const ended = this.goThrough(row, active).finally(() => this.active.delete(row.id));
    const started = Object.assign(active, { ended });
    this.active.set(row.id, started);
    this.makeWayFor(kind.priority);
    return started;
  }

  /** Stops what yields to a job of this priority, until that has had its turn. */
  makeWayFor(priority: Priority): void {
    for (const { kind, yielding } of this.active.values()) {
      if (kind.yields && PRIORITY[kind.priority] < PRIORITY[priority]) yielding?.abort();
    }
  }

  private async goThrough(row: Job, active: Active): Promise<void> {
    const { kind, abort } = active;
    let hasYielded = false;
    do {
      hasYielded = await this.queues.threads.run(() => this.runOnce(row, active), kind.priority, row.pieceId);
    } while (hasYielded && !abort.signal.aborted && !this.closed);
    if (!this.closed)
      await this.rows.delete(row.id).catch((error: unknown) => this.log.error(errorText(error)));
  }

  /** @returns whether it gave way before it had ended. */
  private async runOnce(row: Job, active: Active): Promise<boolean> {
    const { kind, abort } = active;
    if (abort.signal.aborted) return false;
    const turn = new AbortController();
    active.yielding = turn;
    try {
      const { affected } = await this.rows.update(row.id, { state: 'working' });
      if (!affected || abort.signal.aborted) return false;
      const signal = AbortSignal.any([abort.signal, turn.signal]);
      await kind.run(row.payload, { id: row.id, signal });
    } catch (error) {
      if (!abort.signal.aborted && !turn.signal.aborted) {
        this.log.error(errorText(error));
      }
    } finally {
      active.yielding = null;
    }
    return turn.signal.aborted && !abort.signal.aborted;
  }
}
