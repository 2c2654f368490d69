import { sizeWithin } from '@muted-pond/core/pixels';
import { decodeFrames, type MediaFacts, probeHere } from '../media/index.js';

/** A file that is looked at. */
export interface Inspection {
  readonly path: string;
  readonly name: string;
}

/**
 * Reads what a file is and decodes its first frame, in this thread.
 * @throws UserError with a sentence, for everything that cannot be used.
 */
export async function inspectHere({ path, name }: Inspection): Promise<MediaFacts> {
  const facts = await probeHere(path, name);
  await assertDecodes(path, name, facts);
  return facts;
}

/** @throws UserError where not even the first frame can be decoded. */
export async function assertDecodes(path: string, name: string, facts: MediaFacts): Promise<void> {
  const size = sizeWithin(facts, 64);
  for await (const _ of decodeFrames({ path, name, facts, frames: [0], size, format: 'rgba' })) break;
}
