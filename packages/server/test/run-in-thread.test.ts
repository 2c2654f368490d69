import { MessageChannel } from 'node:worker_threads';
import { UserError } from '@muted-pond/core/errors';
import { describe, expect, it } from 'vitest';
import { type JobPool, runInThread } from '../src/jobs/index.js';
import { progressWorker } from '../src/threads/index.js';

/** A job that counts up to a number, telling each. */
const counting = progressWorker(async ({ to }: { to: number }, onProgress: (at: number) => void) => {
  for (let at = 1; at <= to; at++) {
    onProgress(at);
    // Between two steps others have their turn, as they do while a thread waits for frames.
    await new Promise((resolve) => setImmediate(resolve));
  }
  return `counted to ${to}`;
});

const ONE_JOB = new Int32Array(new SharedArrayBuffer(4)).fill(1);

function telling() {
  const { port1, port2 } = new MessageChannel();
  const heard: unknown[] = [];
  port1.on('message', ({ progress }) => heard.push(progress));
  return {
    port: port2,
    stop: new Int32Array(new SharedArrayBuffer(4)),
    running: ONE_JOB,
    heard,
    end: () => port1.close(),
  };
}

/** A pool of this thread: what is handed to it runs here. */
function poolOf(worker: (task: never) => Promise<unknown>): JobPool {
  return {
    run: (task: unknown, options: { signal: AbortSignal }) =>
      new Promise((resolve, reject) => {
        options.signal.addEventListener('abort', () => reject(new Error('The thread was ended.')));
        worker(task as never).then(resolve, reject);
      }),
  } as unknown as JobPool;
}

describe('a job that tells of its progress', () => {
  it('tells, and gives what it made', async () => {
    const { port, stop, running, heard, end } = telling();
    const result = counting({ to: 5, port, stop, running, scratch: '' });
    await expect(result).resolves.toEqual({ type: 'made', made: 'counted to 5' });
    await expect.poll(() => heard).toEqual([1, 2, 3, 4, 5]);
    end();
  });

  it('stops where it next tells, or does not begin, once it was asked to', async () => {
    const { port, stop, running, end } = telling();
    Atomics.store(stop, 0, 1);
    await expect(counting({ to: 5, port, stop, running, scratch: '' })).resolves.toEqual({ type: 'stopped' });
    end();
  });

  it('that stops without having been asked to has failed, and the error says so', async () => {
    const pool = poolOf(async () => ({ type: 'stopped' }));
    const options = { filename: 'none', signal: new AbortController().signal };
    await expect(runInThread(pool, {}, options, () => {})).rejects.toThrow('nobody had asked to');
  });

  it('gives a sentence for what a person can mend, and throws the rest', async () => {
    const failing = (error: Error) =>
      progressWorker(async () => {
        throw error;
      });
    const run = (error: Error) => {
      const { port, stop, running, end } = telling();
      return failing(error)({ port, stop, running, scratch: '' }).finally(end);
    };
    await expect(run(new UserError('out_of_range', 'Too wide.'))).resolves.toEqual({
      type: 'refused',
      code: 'out_of_range',
      message: 'Too wide.',
    });
    const unread = new UserError('cut_short', '“it” is cut short.');
    await expect(run(unread)).resolves.toEqual({
      type: 'refused',
      code: 'cut_short',
      message: '“it” is cut short.',
    });
    await expect(run(new TypeError('ours'))).rejects.toThrow('ours');
    // Its code is lost between threads, so it is told in words.
    await expect(run(Object.assign(new Error('write'), { code: 'ENOSPC' }))).resolves.toMatchObject({
      type: 'refused',
      code: 'disk_full',
    });
  });

  it('that cannot be done throws the sentence, with its code, where it was asked for', async () => {
    const refusing = progressWorker(async () => {
      throw new UserError('too_heavy', 'It weighs too much.');
    });
    const options = { filename: '', signal: new AbortController().signal };
    const result = runInThread(poolOf(refusing), {}, options, () => {});
    await expect(result).rejects.toMatchObject({
      ...{ name: 'UserError', code: 'too_heavy', message: 'It weighs too much.' },
    });
  });

  it('is asked to stop by the signal, and its thread is left alone', async () => {
    const abort = new AbortController();
    const seen: number[] = [];
    const result = runInThread<number, string>(
      poolOf(counting),
      { to: 1e9 },
      { filename: '', signal: abort.signal },
      (at) => {
        seen.push(at);
        abort.abort(new Error('Another one was asked for.'));
      },
    );
    await expect(result).rejects.toThrow('Another one was asked for.');
    expect(seen.length).toBeGreaterThan(0);
  });

  it('that was finished when it was asked to stop gives nothing all the same', async () => {
    const abort = new AbortController();
    const instant = progressWorker(async () => {
      abort.abort(new Error('Too late.'));
      return 'made';
    });
    const result = runInThread(poolOf(instant), {}, { filename: '', signal: abort.signal }, () => {});
    await expect(result).rejects.toThrow('Too late.');
  });
});
