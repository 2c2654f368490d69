import { LRUCache } from 'lru-cache';
import { ApiProblem } from './client.js';

/**
 * Kept files that this window has sent, so that they can be sent again should the server have lost
 * them.
 */
const sent = new LRUCache<string, () => Promise<unknown>>({
  /** What an undo can bring back stays. */
  max: 300,
});

/** @param again how one is sent again. */
export function rememberSent(
  hash: string,
  file: Blob,
  name: string,
  again: (file: Blob, name: string) => Promise<unknown>,
): void {
  sent.set(hash, () => again(file, name));
}

/**
 * Makes a call; where the server reports files as missing that this window has, it sends them again and
 * repeats the call once.
 */
export async function withLayers<T>(call: () => Promise<T>): Promise<T> {
  try {
    return await call();
  } catch (error) {
    const missing = missingOf(error).flatMap((hash) => sent.get(hash) ?? []);
    if (missing.length === 0 || missing.length < missingOf(error).length) throw error;
    for (const send of missing) await send();
    return call();
  }
}

function missingOf(error: unknown): readonly string[] {
  if (!(error instanceof ApiProblem) || error.code !== 'layers_missing') return [];
  const { missing } = error.body as { missing?: unknown };
  return Array.isArray(missing) ? missing.map(String) : [];
}
