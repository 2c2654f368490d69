import { newRecipe } from '@muted-pond/core/recipe';
import { ComposedFrames, type ComposeWorker, type StagePlan } from '../pictures/composed-frames.js';
import type { ComposeMessage } from '../workers/compose-work.js';
import type { ComposeReply } from '../workers/composed-pictures.js';

const times = { starts: [0, 0.1, 0.2], duration: 0.3 };
export const planOf = (): StagePlan => ({
  recipe: newRecipe('a'.repeat(64), times),
  files: [],
  layers: false,
  weaves: {},
  isDraft: false,
  single: null,
});
/** One whose closing is noted, as a browser does: it has no size any more. */
export function openBitmap() {
  const bitmap = { width: 10, height: 10, close: () => Object.assign(bitmap, { width: 0, height: 0 }) };
  return bitmap as unknown as ImageBitmap;
}

/** A worker that answers only when it is told to. */
export class ScriptedComposer implements ComposeWorker {
  readonly heard: ComposeMessage[] = [];
  ended = false;
  onmessage: ComposeWorker['onmessage'] = null;
  onerror: ComposeWorker['onerror'] = null;
  postMessage(message: ComposeMessage): void {
    this.heard.push(message);
  }
  terminate(): void {
    this.ended = true;
  }
  reply(data: ComposeReply): void {
    this.onmessage?.({ data } as MessageEvent<ComposeReply>);
  }
  crash(): void {
    this.onerror?.({} as ErrorEvent);
  }
  get shown(): number[] {
    return this.heard.flatMap((message) => (message.type === 'show' ? [message.place] : []));
  }
}

/** Composed frames, and the workers that they start. */
export function openComposed() {
  const workers: ScriptedComposer[] = [];
  const frames = new ComposedFrames(() => {
    workers.push(new ScriptedComposer());
    return workers[workers.length - 1];
  });
  return { frames, workers };
}

/** Whether a bitmap was closed. */
export const isClosed = ({ width }: ImageBitmap) => width === 0;
