import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { DataSource } from 'typeorm';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { seeded, wholeFrom } from '../../core/src/testing/seeded.js';
import { databaseOptions } from '../src/database/index.js';
import { Jobs, PieceJobs, PRIORITY, WaitingTasks } from '../src/jobs/index.js';
import { Job } from '../src/jobs/job.entity.js';
import { JobQueues } from '../src/jobs/job-queues.js';
import { gate } from './gate.js';

describe('tasks that wait', () => {
  const waiting = ({ concurrency = 99, newestFirst = false, running = { behind: 0 } } = {}) =>
    new WaitingTasks({ concurrency, newestFirst, running });

  /** Takes all in their order, each ending before the next begins. */
  async function order(tasks: WaitingTasks): Promise<void> {
    for (let run = tasks.dequeue(); run; run = tasks.dequeue()) await run();
  }
  const note = (list: string[], name: string) => async () => void list.push(name);

  it('go by priority, what the hand waits for first', async () => {
    const tasks = waiting();
    const done: string[] = [];
    for (const name of ['background', 'fit', 'hand', 'batch', 'trial'] as const) {
      tasks.enqueue(note(done, name), { priority: PRIORITY[name] });
    }
    await order(tasks);
    expect(done).toEqual(['hand', 'trial', 'fit', 'batch', 'background']);
  });

  it('go in turns between pieces: many of one do not keep another waiting', async () => {
    const tasks = waiting();
    const done: string[] = [];
    for (let i = 0; i < 5; i++) tasks.enqueue(note(done, `a${i}`), { priority: PRIORITY.fit, owner: 'a' });
    for (let i = 0; i < 2; i++) tasks.enqueue(note(done, `b${i}`), { priority: PRIORITY.fit, owner: 'b' });
    await order(tasks);
    expect(done).toEqual(['a0', 'b0', 'a1', 'b1', 'a2', 'a3', 'a4']);
  });

  it('behind the hand leave one place free', () => {
    const running = { behind: 0 };
    const tasks = waiting({ concurrency: 3, running });
    const never = () => new Promise<void>(() => {});
    for (let i = 0; i < 4; i++) tasks.enqueue(never, { priority: PRIORITY.fit, owner: String(i) });
    expect([tasks.dequeue(), tasks.dequeue(), tasks.dequeue()].map((run) => run !== undefined)).toEqual([
      ...[true, true, false],
    ]);
    tasks.enqueue(never, { priority: PRIORITY.trial, owner: 'x' });
    expect([tasks.size, tasks.dequeue() !== undefined, tasks.size]).toEqual([1, true, 0]);
    // One that was given out has ended.
    running.behind--;
    expect(tasks.size).toBe(2);
    expect(tasks.dequeue()).toBeDefined();
    expect(tasks.size).toBe(0);
  });

  it('are each given once, none is lost (20 seeds)', async () => {
    for (let seed = 1; seed <= 20; seed++) {
      const random = seeded(seed);
      const tasks = waiting({ newestFirst: seed % 2 === 0 });
      const done: string[] = [];
      const all = Array.from({ length: 40 }, (_, i) => String(i));
      for (const name of all) {
        const priority = wholeFrom(random, 0, 4) * 10;
        tasks.enqueue(note(done, name), { priority, owner: String(wholeFrom(random, 0, 5)) });
        if (random() < 0.3) await tasks.dequeue()?.();
      }
      await order(tasks);
      expect([...done].sort(), `seed ${seed}`).toEqual([...all].sort());
    }
  });
});

describe('jobs', () => {
  let folder: string;
  let database: DataSource;
  beforeEach(async () => {
    folder = mkdtempSync(join(tmpdir(), 'muted-pond-jobs-'));
    database = await new DataSource(databaseOptions(join(folder, 'pond.sqlite'))).initialize();
  });
  afterEach(async () => {
    await database.destroy();
    rmSync(folder, { recursive: true, force: true });
  });

  const open = () => new Jobs(database.getRepository(Job), new JobQueues());
  const states = async () =>
    (await database.getRepository(Job).find({ order: { createdAt: 'ASC' } })).map(({ state }) => state);

  it('are rows until they end', async () => {
    const jobs = open();
    const { opened, open: end } = gate();
    jobs.define({ name: 'trial', priority: 'trial', run: () => opened, interrupted: async () => {} });
    const { ended } = await jobs.add('trial', 'piece', { n: 1 });
    await expect.poll(states).toEqual(['working']);
    expect(await jobs.payloads('trial')).toEqual([{ n: 1 }]);
    end();
    await ended;
    expect(await states()).toEqual([]);
    expect(await jobs.payloads('trial')).toEqual([]);
  });

  it('that waited when the server stopped go on; what was being worked on is told', async () => {
    const before = open();
    before.define({
      ...{ name: 'fit', priority: 'fit' as const },
      run: (_: unknown, { signal }) =>
        new Promise<void>((_, reject) => signal.addEventListener('abort', () => reject(signal.reason))),
      interrupted: async () => {},
    });
    // Background jobs leave a place free: with many, some wait whatever the machine has.
    const many = Array.from({ length: 80 }, (_, i) => i);
    for (const i of many) await before.add('fit', `piece ${i}`, i);
    await expect.poll(async () => (await states()).includes('working')).toBe(true);
    const working = (await database.getRepository(Job).findBy({ state: 'working' })).map(
      (row) => row.payload,
    );
    before.onApplicationShutdown();

    const after = open();
    const [ran, told]: [number[], number[]] = [[], []];
    after.define<number>({
      ...{ name: 'fit', priority: 'fit' },
      run: async (n) => void ran.push(n),
      interrupted: async (n) => void told.push(n),
    });
    await after.onApplicationBootstrap();
    await expect.poll(() => ran.length + told.length).toBe(many.length);
    expect(told.sort()).toEqual(working.sort());
    expect([...ran, ...told].sort((a, b) => a - b)).toEqual(many);
    await expect.poll(states).toEqual([]);
  });

  it('whose end cannot be told of do not keep the server from starting', async () => {
    const before = open();
    const never = () => new Promise<void>(() => {});
    before.define({ ...{ name: 'old', priority: 'fit' as const }, run: never, interrupted: async () => {} });
    await before.add('old', 'p', { of: 'an earlier version' });
    await expect.poll(states).toEqual(['working']);
    before.onApplicationShutdown();
    const log = vi.spyOn(process.stderr, 'write').mockReturnValue(true);
    const after = open();
    after.define<{ recipe: { span: object } }>({
      ...{ name: 'old', priority: 'fit' },
      run: never,
      interrupted: async ({ recipe }) => void recipe.span,
    });
    await after.onApplicationBootstrap();
    log.mockRestore();
    expect(await states()).toEqual([]);
  });

  it('stopped before their turn never begin, and a failure keeps nobody waiting', async () => {
    const jobs = open();
    const ran: string[] = [];
    const { opened, open: end } = gate();
    jobs.define<string>({
      ...{ name: 'batch', priority: 'batch' },
      async run(name) {
        ran.push(name);
        if (name.startsWith('slow')) await opened;
        if (name === 'bad') throw new Error('It went wrong.');
      },
      interrupted: async () => {},
    });
    const slow = await Promise.all(
      Array.from({ length: 64 }, (_, i) => jobs.add('batch', `p${i}`, `slow ${i}`)),
    );
    const never = await jobs.add('batch', 'q', 'never');
    const bad = await jobs.add('batch', 'q', 'bad');
    await jobs.stop(never.id);
    const log = vi.spyOn(process.stderr, 'write').mockReturnValue(true);
    end();
    await Promise.all([...slow.map((one) => one.ended), never.ended, bad.ended]);
    log.mockRestore();
    expect(ran).not.toContain('never');
    expect(ran).toContain('bad');
    expect(await states()).toEqual([]);
  });

  it('that yield are stopped by what is waited for, and begin again behind it', async () => {
    const jobs = open();
    const happened: string[] = [];
    const { opened, open: end } = gate();
    jobs.define({
      ...{ name: 'seen', priority: 'background' as const, yields: true },
      async run(_: unknown, { signal }) {
        happened.push('measuring');
        if (happened.length > 1) return;
        await new Promise<void>((_, reject) => signal.addEventListener('abort', () => reject(signal.reason)));
      },
      interrupted: async () => {},
    });
    jobs.define({
      ...{ name: 'trial', priority: 'trial' as const },
      async run() {
        happened.push('making');
        await opened;
      },
      interrupted: async () => {},
    });
    const seen = await jobs.add('seen', 'p', {});
    await expect.poll(() => happened).toEqual(['measuring']);
    const trial = await jobs.add('trial', 'p', {});
    await expect.poll(() => happened.includes('making')).toBe(true);
    end();
    await Promise.all([seen.ended, trial.ended]);
    expect(happened.filter((word) => word === 'measuring')).toHaveLength(2);
  });

  describe('of which a piece has one', () => {
    interface View {
      readonly piece: string;
      readonly revision: number;
      readonly state: 'working' | 'done' | 'failed';
      readonly problem: string | null;
      readonly found: number;
    }
    function finding(jobs: Jobs, told: View[], work: (n: number, signal: AbortSignal) => Promise<number>) {
      return new PieceJobs<number, View>(jobs, {
        ...{ name: 'fit', priority: 'fit' },
        first: (piece) => ({ piece, state: 'working', problem: null, found: 0 }),
        tell: (view) => void told.push(view),
        run: async (_, n, signal, change) => change({ state: 'done', found: await work(n, signal) }),
      });
    }
    const untilAborted = (signal: AbortSignal) =>
      new Promise<never>((_, reject) => signal.addEventListener('abort', () => reject(signal.reason)));

    it('tell what they found, also after the next start', async () => {
      const told: View[] = [];
      const jobs = open();
      const fits = finding(jobs, told, async (n) => n * 2);
      expect(await fits.begin('p', 21)).toMatchObject({ state: 'working' });
      await expect.poll(() => told.at(-1)).toMatchObject({ state: 'done', found: 42 });
      // Each telling is newer than the one before.
      const revisions = told.map(({ revision }) => revision);
      expect(revisions).toEqual([...new Set(revisions)].sort((a, b) => a - b));
      await expect.poll(states).toEqual(['ended']);
      const later = finding(open(), [], async () => 0);
      expect(await later.last('p')).toMatchObject({ state: 'done', found: 42 });
      expect(await later.last('q')).toBeNull();
    });

    it('end the one before, whose outcome nobody hears of', async () => {
      const told: View[] = [];
      const fits = finding(open(), told, (n, signal) =>
        n === 1 ? untilAborted(signal) : Promise.resolve(n),
      );
      await fits.begin('p', 1);
      await expect.poll(states).toEqual(['working']);
      await fits.begin('p', 2);
      await expect.poll(() => told.at(-1)).toMatchObject({ state: 'done', found: 2 });
      expect(told.every(({ found, state }) => found === 2 || state === 'working')).toBe(true);
      await expect.poll(states).toEqual(['ended']);
    });

    it('tell what went wrong in a sentence, and that a stop of the server ended them', async () => {
      const log = vi.spyOn(process.stderr, 'write').mockReturnValue(true);
      const told: View[] = [];
      const failing = finding(open(), told, () => Promise.reject(new Error('secret detail')));
      await failing.begin('p', 1);
      await expect.poll(() => told.at(-1)?.state).toBe('failed');
      log.mockRestore();
      expect(told.at(-1)?.problem).not.toContain('secret');

      const jobs = open();
      await finding(jobs, [], (_, signal) => untilAborted(signal)).begin('q', 1);
      await expect.poll(async () => (await states()).includes('working')).toBe(true);
      jobs.onApplicationShutdown();
      const after = open();
      const heard: View[] = [];
      const again = finding(after, heard, async () => 0);
      await after.onApplicationBootstrap();
      expect(heard).toMatchObject([{ piece: 'q', state: 'failed' }]);
      expect((await again.last('q'))?.problem).toContain('The server stopped');
    });

    it('stopped are forgotten', async () => {
      const fits = finding(open(), [], (_, signal) => untilAborted(signal));
      await fits.begin('p', 1);
      await fits.stop('p');
      expect(await fits.last('p')).toBeNull();
      await expect.poll(states).toEqual([]);
    });
  });
});
