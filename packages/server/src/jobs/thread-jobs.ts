import type { JobView } from '@muted-pond/core/api';
import type { PictureCache } from '../cache/index.js';
import type { JobPool } from './job-pool.js';
import type { Jobs } from './jobs.service.js';
import { PieceJobs } from './piece-jobs.js';
import { nextRevision } from './revision.js';
import { runInThread } from './run-in-thread.js';
import type { Priority } from './task-queue.js';

export interface ThreadJobKind<Ask, Task extends object, Result, View extends JobView> {
  readonly name: string;
  readonly priority: Priority;
  /** The file of the worker that makes the result of a task; it tells how far it is, 0–1, or a part of the view. */
  readonly worker: string;
  /** @throws Problem or UserError where there is nothing to work on. */
  taskOf(piece: string, ask: Ask): Promise<Task>;
  /** The result’s key, from core. */
  keyOf(task: Task, ask: Ask): string;
  /** What is told before anything is known. */
  first(job: JobView, ask: Ask): NoInfer<View>;
  /** The part of the view that tells the result. */
  result(
    result: Result,
    of: { readonly piece: string; readonly ask: Ask; readonly task: Task },
  ): ToldResult<NoInfer<View>>;
  tell(view: View): void;
  /** The file of footage with which the result is kept in the cache, and goes. Without it, it is not kept. */
  keptWith?(task: Task): string;
  /** What the result names may be deleted, so asking again makes it again. */
  readonly isFleeting?: boolean;
}

type ToldResult<View> = Partial<View> | Promise<Partial<View>>;

interface Wish<Ask> {
  readonly ask: Ask;
  readonly key: string;
}

/** Where jobs run, and their results are kept. */
interface ThreadJobServices {
  readonly jobs: Jobs;
  readonly pool: JobPool;
  readonly cache: PictureCache;
}

/**
 * Something that is worked out in a thread, of which each piece has one at a time. Asking for the same result
 * again costs nothing.
 */
export class ThreadJobs<Ask, Task extends object, Result, View extends JobView> {
  private readonly running: PieceJobs<Wish<Ask>, View>;
  private readonly cache: PictureCache;

  constructor(
    { jobs, pool, cache }: ThreadJobServices,
    private readonly kind: ThreadJobKind<Ask, Task, Result, View>,
  ) {
    this.cache = cache;
    this.running = new PieceJobs<Wish<Ask>, View>(jobs, {
      name: kind.name,
      priority: kind.priority,
      first: (piece, { ask, key }) => kind.first(begun(piece, key), ask),
      tell: (view) => kind.tell(view),
      run: async (piece, { ask, key }, signal, change) => {
        const task = await kind.taskOf(piece, ask);
        const result = await runInThread<number | Partial<View>, Result>(
          pool,
          task,
          { filename: kind.worker, signal },
          (told, tell) => change((typeof told === 'number' ? { done: told } : told) as Partial<View>, tell),
        );
        const place = this.placeOf(task, key);
        if (place) await cache.put(...place, Buffer.from(JSON.stringify(result)));
        change({ ...(await kind.result(result, { piece, ask, task })), state: 'done', done: 1 });
      },
    });
  }

  /** At once if it was worked out before; else it is begun, and events tell of it. */
  async request(piece: string, ask: Ask): Promise<View> {
    const task = await this.kind.taskOf(piece, ask);
    const key = this.kind.keyOf(task, ask);
    const now = this.running.current(piece);
    const stands = now?.state === 'working' || (now?.state === 'done' && !this.kind.isFleeting);
    if (now?.key === key && stands) return now;
    const place = this.placeOf(task, key);
    const kept = place && (await this.cache.get(...place));
    if (!kept) return this.running.begin(piece, { ask, key });
    await this.running.stop(piece);
    const result = await this.kind.result(JSON.parse(kept.toString()) as Result, { piece, ask, task });
    return { ...this.kind.first(begun(piece, key), ask), ...result, state: 'done', done: 1 };
  }

  /** What was told last, also before the last start of the server. */
  last(piece: string): Promise<View | null> {
    return this.running.last(piece);
  }

  stop(piece: string): Promise<void> {
    return this.running.stop(piece);
  }

  private placeOf(task: Task, key: string): [file: string, kind: string, index: number] | null {
    const file = this.kind.keptWith?.(task);
    return file === undefined ? null : [file, `${this.kind.name}-${key}`, 0];
  }
}

function begun(piece: string, key: string): JobView {
  return { piece, key, state: 'working', done: 0, problem: null, revision: nextRevision() };
}
