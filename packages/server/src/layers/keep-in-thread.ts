import { UserError } from '@muted-pond/core/errors';
import { startThread, THREAD_ENDING } from '../threads/index.js';
import type { KeepReply, KeepRequest } from './keep.worker.js';
import type { KeptLayer } from './keep-layer.js';

const WORKER = new URL(`./keep.worker.${THREAD_ENDING}`, import.meta.url);
/** Longer than this, a file is made to hurt, ms. */
const LONGEST_MS = 30_000;

/**
 * Looks at a file that was brought in, in a thread of its own that is ended when it takes too long.
 * @throws UserError where it cannot be used.
 */
export async function keepInThread(request: KeepRequest): Promise<KeptLayer> {
  const worker = startThread(WORKER);
  const refused = (message: string) => new UserError('decoder_failed', message);
  let timer: NodeJS.Timeout | null = null;
  try {
    const reply = await new Promise<KeepReply>((resolve, reject) => {
      timer = setTimeout(
        () =>
          reject(
            refused(`“${request.name}” took longer than ${LONGEST_MS / 1000} s to read. Make it simpler.`),
          ),
        LONGEST_MS,
      );
      worker.once('message', resolve);
      worker.once('error', () =>
        reject(refused(`“${request.name}” could not be read: reading it ended the reader.`)),
      );
      worker.postMessage(request);
    });
    if (reply.type === 'kept') return reply.layer;
    if (reply.type === 'refused') throw new UserError(reply.code, reply.message);
    throw new Error(`The thread that looks at layers: ${reply.stack}`);
  } finally {
    if (timer) clearTimeout(timer);
    await worker.terminate();
  }
}
