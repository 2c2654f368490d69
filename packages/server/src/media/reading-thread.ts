import { MessageChannel, type Worker } from 'node:worker_threads';
import { UserError } from '@muted-pond/core/errors';
import type { AnimationFacts, DecodedFrame, DecodeRequest, MediaFacts } from '../decoder/index.js';
import { startThread, THREAD_ENDING } from '../processes/index.js';
import type { ThreadReply, ThreadRequest } from './reading-work.js';

const WORKER = new URL(`./reading.worker.${THREAD_ENDING}`, import.meta.url);

/**
 * A thread of its own for formats that are not read by the decoder, so that the thread that asks stays
 * responsive.
 */
let thread: Worker | null = null;
/** What is told when the thread ends by itself. */
const lost = new Set<() => void>();

/** @throws UserError */
export async function probeInThread(path: string, name: string): Promise<MediaFacts> {
  for await (const reply of converse({ type: 'probe', path, name }, name)) {
    if (reply.type === 'facts') return reply.facts;
  }
  throw new Error('The thread that reads files gave no answer.');
}

/** Frames come one by one, as they are asked for. */
export async function* decodeGifInThread(
  request: DecodeRequest<AnimationFacts>,
): AsyncGenerator<DecodedFrame> {
  const { signal, ...plain } = request;
  if (plain.frames.length === 0 || signal?.aborted) return;
  for await (const reply of converse({ type: 'decode', request: plain }, plain.name, signal)) {
    if (reply.type === 'frame') yield { frame: reply.frame, data: Buffer.from(reply.data) };
  }
}

async function* converse(
  request: ThreadRequest,
  name: string,
  signal?: AbortSignal,
): AsyncGenerator<ThreadReply> {
  const worker = openThread();
  const { port1: port, port2 } = new MessageChannel();
  let answer: (reply: ThreadReply) => void = () => {};
  port.on('message', (reply: ThreadReply) => answer(reply));
  const onLost = () =>
    answer({
      type: 'refused',
      code: 'decoder_failed',
      message: `“${name}” could not be unpacked; reading it ended the reader. Make a smaller version of it.`,
    });
  const onAbort = () => answer({ type: 'end' });
  lost.add(onLost);
  signal?.addEventListener('abort', onAbort, { once: true });
  const ask = () =>
    new Promise<ThreadReply>((resolve) => {
      answer = resolve;
      port.postMessage('next');
    });
  try {
    worker.postMessage({ request, port: port2 }, [port2]);
    for (;;) {
      const reply = await ask();
      if (reply.type === 'end') return;
      if (reply.type === 'refused') throw new UserError(reply.code, reply.message);
      if (reply.type === 'broken') throw new Error(`The thread that reads files: ${reply.stack}`);
      yield reply;
    }
  } finally {
    lost.delete(onLost);
    signal?.removeEventListener('abort', onAbort);
    port.close();
  }
}

function openThread(): Worker {
  if (thread) return thread;
  const worker = startThread(WORKER);
  worker.unref();
  const end = () => {
    if (thread === worker) thread = null;
    for (const tell of [...lost]) tell();
  };
  worker.on('error', end);
  worker.on('exit', end);
  thread = worker;
  return worker;
}
