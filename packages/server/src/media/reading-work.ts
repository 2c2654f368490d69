import type { MessagePort } from 'node:worker_threads';
import { UserError, type UserErrorCode } from '@muted-pond/core/errors';
import type { AnimationFacts, DecodeRequest, MediaFacts } from '../decoder/index.js';
import { decodeGif } from './animation-gif.js';
import { probeHere } from './probe-here.js';

/** What the thread that reads files is asked. */
export type ThreadRequest =
  | { readonly type: 'probe'; readonly path: string; readonly name: string }
  | { readonly type: 'decode'; readonly request: Omit<DecodeRequest<AnimationFacts>, 'signal'> };

/** One answer for each time that the port says `next`. */
export type ThreadReply =
  | { readonly type: 'facts'; readonly facts: MediaFacts }
  | { readonly type: 'frame'; readonly frame: number; readonly data: Uint8Array }
  | { readonly type: 'end' }
  /** A failure a person can be told of. */
  | { readonly type: 'refused'; readonly code: UserErrorCode; readonly message: string }
  | { readonly type: 'broken'; readonly stack: string };

/** Answers one request, step by step, until the other side closes the port. */
export function serveReading(request: ThreadRequest, port: MessagePort): void {
  const replies = repliesTo(request);
  port.on('message', () => {
    void replies.next().then(({ done, value }) => {
      const reply: ThreadReply = done ? { type: 'end' } : value;
      port.postMessage(reply, reply.type === 'frame' ? [reply.data.buffer as ArrayBuffer] : []);
    });
  });
  port.on('close', () => void replies.return(undefined));
}

async function* repliesTo(request: ThreadRequest): AsyncGenerator<ThreadReply, void> {
  try {
    if (request.type === 'probe') {
      yield { type: 'facts', facts: await probeHere(request.path, request.name) };
      return;
    }
    for await (const { frame, data } of decodeGif(request.request)) {
      // Only a whole buffer can be handed over.
      const isWhole = data.byteLength === data.buffer.byteLength;
      yield { type: 'frame', frame, data: isWhole ? new Uint8Array(data.buffer) : new Uint8Array(data) };
    }
  } catch (error) {
    if (error instanceof UserError) yield { type: 'refused', code: error.code, message: error.message };
    else yield { type: 'broken', stack: error instanceof Error ? String(error.stack) : String(error) };
  }
}
