import type { PictureCache } from '../disk/index.js';
import type { JobPool } from './job-pool.js';
import type { Jobs } from './jobs.service.js';
import { type JobView, PieceJobs } from './piece-jobs.js';
import { runInThread } from './run-in-thread.js';
import type { Priority } from './task-queue.js';

/** What everyone is told of a job whose result is kept: the same key is the same result. */
export interface KeptJobView extends JobView {
  readonly key: string;
  /** 0–1 */
  readonly done: number;
}

export interface KeptPieceJobKind<Ask, Task extends object, Result, View extends KeptJobView> {
  readonly name: string;
  readonly priority: Priority;
  /** The file of the worker that makes the result of a task. */
  readonly worker: string;
  taskOf(piece: string, ask: Ask): Promise<Task>;
  /** All that the result depends on, hashed. */
  keyOf(task: Task): string;
  /** The file under which the result is kept, and goes with it. */
  fileOf(task: Task): string;
  /** @param result null while there is none. */
  view(job: KeptJobView, result: Result | null): View;
  tell(view: View): void;
}

interface Wish<Ask> {
  readonly ask: Ask;
  readonly key: string;
}

/** Something that is worked out in a thread, of which each piece has one at a time, and kept in the cache. */
export class KeptPieceJobs<Ask, Task extends object, Result, View extends KeptJobView> {
  private readonly running: PieceJobs<Wish<Ask>, View>;
  private readonly cache: PictureCache;

  constructor(
    { jobs, pool, cache }: { readonly jobs: Jobs; readonly pool: JobPool; readonly cache: PictureCache },
    private readonly kind: KeptPieceJobKind<Ask, Task, Result, View>,
  ) {
    this.cache = cache;
    this.running = new PieceJobs<Wish<Ask>, View>(jobs, {
      name: kind.name,
      priority: kind.priority,
      first: (piece, { key }) => kind.view(begun(piece, key), null),
      tell: (view) => kind.tell(view),
      run: async (piece, { ask, key }, signal, change) => {
        const task = await kind.taskOf(piece, ask);
        const result = await runInThread<number, Result>(
          pool,
          task,
          { filename: kind.worker, signal },
          (done, tell) => change({ done } as Partial<View>, tell),
        );
        await cache.put(...this.placeOf(task, key), Buffer.from(JSON.stringify(result)));
        change(kind.view(ended(piece, key), result));
      },
    });
  }

  /** At once if it was worked out before; else it is begun, and events tell of it. */
  async request(piece: string, ask: Ask): Promise<View> {
    const task = await this.kind.taskOf(piece, ask);
    const key = this.kind.keyOf(task);
    const now = this.running.current(piece);
    if (now?.key === key && now.state === 'working') return now;
    const kept = await this.cache.get(...this.placeOf(task, key));
    if (!kept) return this.running.begin(piece, { ask, key });
    await this.running.stop(piece);
    return this.kind.view(ended(piece, key), JSON.parse(kept.toString()) as Result);
  }

  stop(piece: string): Promise<void> {
    return this.running.stop(piece);
  }

  private placeOf(task: Task, key: string): [file: string, kind: string, index: number] {
    return [this.kind.fileOf(task), `${this.kind.name}-${key}`, 0];
  }
}

function begun(piece: string, key: string): KeptJobView {
  return { piece, key, state: 'working', done: 0, problem: null };
}

function ended(piece: string, key: string): KeptJobView {
  return { piece, key, state: 'done', done: 1, problem: null };
}
