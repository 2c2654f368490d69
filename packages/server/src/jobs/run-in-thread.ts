import { MessageChannel } from 'node:worker_threads';
import { UserError } from '@muted-pond/core/errors';
import type { Outcome } from '../threads/index.js';
import type { JobPool } from './job-pool.js';

/** Progress is told at most this often, ms. */
const TELL_EVERY_MS = 80;
/** A job that was asked to stop and goes on for so long loses its thread, ms. */
const STOP_WITHIN_MS = 3000;

/**
 * Runs a job in the pool whose worker is a told one.
 * @param onProgress is called at once and then now and then; `tell` says whether it is time to tell others.
 * @throws the signal's reason when the job was stopped.
 * @throws UserError what a person can mend.
 */
export async function runInThread<Progress, Result>(
  pool: JobPool,
  task: object,
  { filename, signal }: { readonly filename: string; readonly signal: AbortSignal },
  onProgress: (progress: Progress, tell: boolean) => void,
): Promise<Result> {
  const { port1, port2 } = new MessageChannel();
  let toldAt = 0;
  port1.on('message', (progress: Progress) => {
    const now = Date.now();
    const tell = now - toldAt >= TELL_EVERY_MS;
    if (tell) toldAt = now;
    onProgress(progress, tell);
  });
  const stop = new Int32Array(new SharedArrayBuffer(4));
  const thread = new AbortController();
  let ending: NodeJS.Timeout | null = null;
  const ask = () => {
    Atomics.store(stop, 0, 1);
    ending = setTimeout(() => thread.abort(), STOP_WITHIN_MS);
    ending.unref();
  };
  if (signal.aborted) ask();
  signal.addEventListener('abort', ask, { once: true });
  try {
    const told = await pool.run<Outcome<Result>>(
      { ...task, port: port2, stop, running: pool.running },
      { filename, transferList: [port2], signal: thread.signal },
    );
    if (told.type === 'stopped' || signal.aborted) throw signal.reason;
    if (told.type === 'refused') throw new UserError(told.code, told.message);
    return told.made;
  } finally {
    signal.removeEventListener('abort', ask);
    if (ending) clearTimeout(ending);
    port1.close();
  }
}
