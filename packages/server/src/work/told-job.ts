import { MessageChannel } from 'node:worker_threads';
import type { Told } from '../threads/index.js';
import type { WorkerPool } from './worker-pool.js';

/** Progress is told at most this often, ms. */
const TELL_EVERY_MS = 80;

/**
 * Runs a job in the pool whose worker is a told one.
 * @param onProgress is called at once and then now and then; `tell` says whether it is time to tell others.
 */
export async function runTold<Progress, Result>(
  pool: WorkerPool,
  task: object,
  { filename, signal }: { readonly filename: string; readonly signal: AbortSignal },
  onProgress: (progress: Progress, tell: boolean) => void,
): Promise<Told<Result>> {
  const { port1, port2 } = new MessageChannel();
  let toldAt = 0;
  port1.on('message', (progress: Progress) => {
    const now = Date.now();
    const tell = now - toldAt >= TELL_EVERY_MS;
    if (tell) toldAt = now;
    onProgress(progress, tell);
  });
  try {
    return await pool.run<Told<Result>>(
      { ...task, port: port2 },
      { filename, transferList: [port2], signal },
    );
  } finally {
    port1.close();
  }
}
