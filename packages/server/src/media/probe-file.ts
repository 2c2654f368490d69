import { isMainThread } from 'node:worker_threads';
import type { MediaFacts } from '../decoder/index.js';
import { probeHere } from './probe-here.js';
import { probeInThread } from './reading-thread.js';

/**
 * Reads what a file is and when its frames are shown. Its content decides, never its name. The main thread
 * has it done by another one: a header may list a million frames.
 * @param name what the user calls the file, for messages.
 * @throws UserError with a sentence, for everything that cannot be used.
 */
export function probeFile(path: string, name: string): Promise<MediaFacts> {
  return (isMainThread ? probeInThread : probeHere)(path, name);
}
