import { describe, expect, it } from 'vitest';
import { PRIORITY, type Priority, SharedJobs } from '../src/jobs/index.js';
import { JobQueues } from '../src/jobs/job-queues.js';
import { gate } from './gate.js';

function setUp() {
  const ways: Priority[] = [];
  const jobs = new SharedJobs(new JobQueues(), { makeWayFor: (priority) => ways.push(priority) });
  const order: string[] = [];
  const work = (key: string, priority: Priority = 'hand', until: Promise<void> = Promise.resolve()) => ({
    ...{ key, owner: key, queue: 'decoder' as const, priority },
    run: async (turn: { readonly priority: Priority }) => {
      order.push(`${key} ${turn.priority}`);
      await until;
      return key;
    },
  });
  return { jobs, order, ways, work };
}

describe('jobs that are shared', () => {
  it('run once for all who ask meanwhile, and again for who asks later', async () => {
    const { jobs, order, work } = setUp();
    const { opened, open } = gate();
    const asked = [1, 2, 3].map(() => jobs.run(work('strip', 'hand', opened)));
    open();
    expect(await Promise.all(asked)).toEqual(['strip', 'strip', 'strip']);
    expect(order).toEqual(['strip hand']);
    await jobs.run(work('strip'));
    expect(order).toHaveLength(2);
  });

  it('move up when they are asked for at a higher priority, and run once all the same', async () => {
    const { jobs, order, work } = setUp();
    const { opened, open } = gate();
    // One place is for the background, and it is taken.
    const first = jobs.run(work('first', 'background', opened));
    const second = jobs.run(work('second', 'background'));
    const third = jobs.run(work('third', 'background'));
    await Promise.resolve();
    expect(order).toEqual(['first background']);
    expect(await jobs.run(work('third', 'hand'))).toBe('third');
    expect(order).toEqual(['first background', 'third hand']);
    open();
    expect(await Promise.all([first, second, third])).toEqual(['first', 'second', 'third']);
    expect(order).toEqual(['first background', 'third hand', 'second background']);
  });

  it('leave a place for what somebody looks at', async () => {
    const { jobs, work } = setUp();
    const never = new Promise<void>(() => {});
    for (let i = 0; i < 5; i++) void jobs.run(work(`long ${i}`, 'background', never));
    expect(await jobs.run(work('looked at'))).toBe('looked at');
    expect(PRIORITY.hand).toBeGreaterThan(PRIORITY.background);
  });

  it('tell all who wait what went wrong, and are tried anew when they are asked for again', async () => {
    const { jobs, work } = setUp();
    const failing = {
      ...work('strip'),
      run: async () => {
        throw new Error('no such file');
      },
    };
    const asked = [jobs.run(failing), jobs.run(failing)];
    for (const one of asked) await expect(one).rejects.toThrow('no such file');
    expect(await jobs.run(work('strip'))).toBe('strip');
  });

  it('end when the server stops: nothing begins any more, and nothing is told as a failure', async () => {
    const { jobs, order } = setUp();
    const failures: unknown[] = [];
    const common = { owner: 'x', queue: 'decoder' as const };
    const running = jobs.prepare(
      {
        ...{ ...common, key: 'running' },
        run: ({ signal }) =>
          new Promise((_, reject) => signal.addEventListener('abort', () => reject(signal.reason))),
      },
      (error) => failures.push(error),
    );
    await Promise.resolve();
    jobs.onApplicationShutdown();
    await running;
    await jobs.prepare({ ...common, key: 'late', run: async () => void order.push('late') }, (error) =>
      failures.push(error),
    );
    expect([order, failures]).toEqual([[], []]);
  });

  it('in the threads make jobs of a lower priority give way; a decoder is in nobody’s way', async () => {
    const { jobs, ways, work } = setUp();
    await jobs.run(work('strip', 'hand'));
    expect(ways).toEqual([]);
    await jobs.run({ ...work('motion', 'hand'), queue: 'threads' });
    await jobs.run({ ...work('pictures', 'batch'), queue: 'threads' });
    expect(ways).toEqual(['hand', 'batch']);
  });

  it('tell of a failure that nobody waits for', async () => {
    const { jobs } = setUp();
    const failures: unknown[] = [];
    await jobs.prepare(
      {
        ...{ key: 'strip', owner: 'x', queue: 'threads' },
        run: async () => {
          throw new Error('the disk is full');
        },
      },
      (error) => failures.push(error),
    );
    expect(failures).toEqual([new Error('the disk is full')]);
  });
});
