import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { JobView } from '@muted-pond/core/api';
import { DataSource } from 'typeorm';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { PictureCache } from '../src/cache/index.js';
import { databaseOptions } from '../src/database/index.js';
import { type JobPool, Jobs, type ThreadJobKind, ThreadJobs } from '../src/jobs/index.js';
import { Job } from '../src/jobs/job.entity.js';
import { JobQueues } from '../src/jobs/job-queues.js';

interface View extends JobView {
  readonly sum: number | null;
}

interface Task {
  readonly numbers: readonly number[];
}

/** Stands for the threads: each task waits until it is let go, and is counted. */
class Threads {
  readonly ran: Task[] = [];
  private waiting: (() => void)[] = [];
  readonly running = new Int32Array(new SharedArrayBuffer(4));

  async run({ numbers }: Task) {
    this.ran.push({ numbers });
    await new Promise<void>((resolve) => this.waiting.push(resolve));
    return { type: 'made', made: numbers.reduce((sum, n) => sum + n, 0) };
  }

  letGo(): void {
    for (const go of this.waiting.splice(0)) go();
  }
}

describe('jobs of a thread', () => {
  let folder: string;
  let database: DataSource;
  let threads: Threads;
  let told: View[];

  beforeEach(async () => {
    folder = mkdtempSync(join(tmpdir(), 'muted-pond-thread-jobs-'));
    database = new DataSource(databaseOptions(join(folder, 'pond.db')));
    await database.initialize();
    threads = new Threads();
    told = [];
  });
  afterEach(async () => {
    await database.destroy();
    rmSync(folder, { recursive: true, force: true });
  });

  function open(more: Partial<ThreadJobKind<readonly number[], Task, number, View>> = {}) {
    const jobs = new Jobs(database.getRepository(Job), new JobQueues());
    const pool = threads as unknown as JobPool;
    return new ThreadJobs<readonly number[], Task, number, View>(
      { jobs, pool, cache: new PictureCache(join(folder, 'cache')) },
      {
        ...{ name: 'sum', priority: 'hand', worker: 'sum.worker.js' },
        taskOf: async (_, numbers) => ({ numbers }),
        // Their order does not change what comes of it.
        keyOf: ({ numbers }) => [...numbers].sort().join('-'),
        first: (job) => ({ ...job, sum: null }),
        result: (sum) => ({ sum }),
        tell: (view) => void told.push(view),
        ...more,
      },
    );
  }
  const ended = () => expect.poll(() => told.at(-1)?.state).toBe('done');

  it('are begun once for one key, however often they are asked for', async () => {
    const sums = open();
    expect(await sums.request('p', [1, 2])).toMatchObject({ key: '1-2', state: 'working', sum: null });
    await expect.poll(() => threads.ran).toHaveLength(1);
    expect(await sums.request('p', [2, 1])).toMatchObject({ key: '1-2', state: 'working' });
    threads.letGo();
    await ended();
    expect(told.at(-1)).toMatchObject({ piece: 'p', key: '1-2', done: 1, sum: 3, problem: null });
    expect(await sums.request('p', [1, 2])).toMatchObject({ state: 'done', sum: 3 });
    expect(threads.ran).toHaveLength(1);
  });

  it('of another key end those before, whose result nobody hears of', async () => {
    const sums = open();
    await sums.request('p', [1]);
    await expect.poll(() => threads.ran).toHaveLength(1);
    expect(await sums.request('p', [5, 6])).toMatchObject({ key: '5-6', state: 'working' });
    await expect.poll(() => threads.ran).toHaveLength(2);
    threads.letGo();
    await ended();
    expect(told.filter(({ sum }) => sum !== null)).toMatchObject([{ key: '5-6', sum: 11 }]);
  });

  it('that are kept are known after the next start, under their key only', async () => {
    const kept = { keptWith: () => 'a'.repeat(64) };
    const sums = open(kept);
    await sums.request('p', [1, 2]);
    await expect.poll(() => threads.ran).toHaveLength(1);
    threads.letGo();
    await ended();
    const later = open(kept);
    expect(await later.request('q', [2, 1])).toMatchObject({ piece: 'q', state: 'done', done: 1, sum: 3 });
    expect(threads.ran).toHaveLength(1);
    expect(await later.request('q', [3])).toMatchObject({ key: '3', state: 'working', sum: null });
  });

  it('whose result may be deleted are made again where it was asked for again', async () => {
    const sums = open({ isFleeting: true });
    for (const times of [1, 2]) {
      expect(await sums.request('p', [4])).toMatchObject({ state: 'working' });
      await expect.poll(() => threads.ran).toHaveLength(times);
      threads.letGo();
      await ended();
      told = [];
    }
  });

  it('of a task that cannot be made are refused before anything ends', async () => {
    const sums = open({
      async taskOf(_, numbers) {
        if (numbers.length === 0) throw new Error('Nothing to add.');
        return { numbers };
      },
    });
    await sums.request('p', [1]);
    await expect(sums.request('p', [])).rejects.toThrow('Nothing to add.');
    await expect.poll(() => threads.ran).toHaveLength(1);
    threads.letGo();
    await ended();
    expect(told.at(-1)).toMatchObject({ key: '1', sum: 1 });
  });
});
