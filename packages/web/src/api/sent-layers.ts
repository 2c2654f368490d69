import { ApiProblem } from './client.js';

/**
 * Painted pictures that this window has sent, so that they can be sent again should the server have lost
 * them.
 */
const sent = new Map<string, { readonly png: Blob; readonly name: string }>();
/** The oldest go first; what an undo can bring back stays. */
const MOST_SENT = 300;

let send: ((png: Blob, name: string) => Promise<unknown>) | null = null;

/** @param again how one is sent again. */
export function rememberSent(
  hash: string,
  png: Blob,
  name: string,
  again: (png: Blob, name: string) => Promise<unknown>,
): void {
  send = again;
  sent.delete(hash);
  sent.set(hash, { png, name });
  for (const oldest of sent.keys()) {
    if (sent.size <= MOST_SENT) break;
    sent.delete(oldest);
  }
}

/**
 * Does a call; where the server says that it has lost painted pictures that are still here, they are sent
 * again, and it is tried once more.
 */
export async function withLayers<T>(call: () => Promise<T>): Promise<T> {
  try {
    return await call();
  } catch (error) {
    const missing = missingOf(error).flatMap((hash) => sent.get(hash) ?? []);
    if (missing.length === 0 || missing.length < missingOf(error).length || !send) throw error;
    for (const { png, name } of missing) await send(png, name);
    return call();
  }
}

function missingOf(error: unknown): readonly string[] {
  if (!(error instanceof ApiProblem) || error.code !== 'layers_missing') return [];
  const { missing } = error.body as { missing?: unknown };
  return Array.isArray(missing) ? missing.map(String) : [];
}
