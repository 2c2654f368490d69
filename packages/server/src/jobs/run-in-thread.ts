import { MessageChannel } from 'node:worker_threads';
import { UserError } from '@muted-pond/core/errors';
import { removeScratch, scratchPath } from '../scratch/index.js';
import type { JobMessage, Outcome } from '../threads/index.js';
import type { JobPool } from './job-pool.js';

/** Progress is told at most this often, ms. */
const TELL_EVERY_MS = 80;
/** A job that was asked to stop and goes on for so long loses its thread, ms. */
const STOP_WITHIN_MS = 3000;

/**
 * Runs a job in the pool; its worker is a `progressWorker`. Its child processes are ended and its scratch
 * folder is removed here: the main thread can do that at once, also while the job's thread computes or after
 * it has died.
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
  const children = new Set<number>();
  port1.on('message', (message: JobMessage<Progress>) => {
    if (message.type === 'child') {
      if (message.state === 'ended') children.delete(message.pid);
      else if (signal.aborted) endChild(message.pid);
      else children.add(message.pid);
      return;
    }
    // Messages of a stopped job are dropped.
    if (signal.aborted) return;
    const now = Date.now();
    const tell = now - toldAt >= TELL_EVERY_MS;
    if (tell) toldAt = now;
    onProgress(message.progress, tell);
  });
  const stop = new Int32Array(new SharedArrayBuffer(4));
  const scratch = scratchPath();
  const thread = new AbortController();
  let ending: NodeJS.Timeout | null = null;
  const ask = () => {
    Atomics.store(stop, 0, 1);
    port1.postMessage('stop');
    for (const pid of children) endChild(pid);
    void removeScratch(scratch).catch(() => {});
    ending = setTimeout(() => thread.abort(), STOP_WITHIN_MS);
    ending.unref();
  };
  if (signal.aborted) ask();
  signal.addEventListener('abort', ask, { once: true });
  try {
    const told = await pool.run<Outcome<Result>>(
      { ...task, port: port2, stop, scratch, running: pool.running },
      { filename, transferList: [port2], signal: thread.signal },
    );
    if (signal.aborted) throw signal.reason;
    if (told.type === 'stopped') throw new Error('A job stopped that nobody had asked to.');
    if (told.type === 'refused') throw new UserError(told.code, told.message);
    return told.made;
  } finally {
    signal.removeEventListener('abort', ask);
    if (ending) clearTimeout(ending);
    port1.close();
    await removeScratch(scratch).catch(() => {});
  }
}

/** It keeps its number until the thread that started it has taken note of its end: no other can be meant. */
function endChild(pid: number): void {
  try {
    process.kill(pid, 'SIGKILL');
  } catch {
    // It has ended by itself.
  }
}
