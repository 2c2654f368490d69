import { type FileKind, type MediaFacts, probeInThread, sniffFile } from '../media/index.js';
import { IsolatedProcess, THREAD_ENDING } from '../processes/index.js';
import { assertDecodes, type Inspection } from './inspect-here.js';

/** Time limit of reading one picture; one that takes longer is refused as malicious, ms. */
const LONGEST_MS = 60_000;
/** Read by libraries in the process itself; videos have processes of their own. */
const FOREIGN: readonly FileKind[] = ['picture', 'webp-animation', 'gif'];

const isolated = new IsolatedProcess<Inspection, MediaFacts>(
  new URL(`./foreign.process.${THREAD_ENDING}`, import.meta.url),
);

/**
 * Looks at a file that somebody brought, for the server: what it is, when its frames are shown, and whether
 * its first one can be decoded. Its content decides, never its name. A file that crashes its reader harms
 * nothing else.
 * @param name what the user calls the file, for messages.
 * @throws UserError with a sentence, for everything that cannot be used.
 */
export async function inspectFile(path: string, name: string): Promise<MediaFacts> {
  if (FOREIGN.includes(await sniffFile(path))) {
    return isolated.run({ path, name }, { name, timeLimitMs: LONGEST_MS });
  }
  // A header may list a million frames: this thread has others to answer meanwhile.
  const facts = await probeInThread(path, name);
  await assertDecodes(path, name, facts);
  return facts;
}

/** Starts the reader before the first file comes. */
export function warmReader(): void {
  isolated.warm();
}
