import type { MessagePort } from 'node:worker_threads';
import { type MadeGif, type MakingTask, makeGif } from '../making/index.js';
import { MediaError } from '../media/index.js';

export interface TrialTask extends MakingTask {
  readonly port: MessagePort;
}

/** A failure a person can be told of crosses the thread border as a value; anything else is thrown. */
export type TrialResult =
  | { readonly type: 'made'; readonly made: MadeGif }
  | { readonly type: 'refused'; readonly message: string };

export default async function makeTrial({ port, ...task }: TrialTask): Promise<TrialResult> {
  try {
    const made = await makeGif(task, { onProgress: (progress) => port.postMessage(progress) });
    return { type: 'made', made };
  } catch (error) {
    if (error instanceof MediaError || error instanceof RangeError) {
      return { type: 'refused', message: error.message };
    }
    throw error;
  } finally {
    port.close();
  }
}
