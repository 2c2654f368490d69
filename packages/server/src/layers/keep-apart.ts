import type { LayerKind } from '@muted-pond/core/api';
import type { FontFace } from '@muted-pond/core/dress';
import { IsolatedProcess, THREAD_ENDING } from '../processes/index.js';
import type { KeptLayer } from './keep-layer.js';
import type { LayerRequest } from './layer-requests.js';

/** Time limit of reading one file; one that takes longer is refused as malicious, ms. */
const LONGEST_MS = 30_000;

const isolated = new IsolatedProcess<LayerRequest, KeptLayer | FontFace>(
  new URL(`./keep.process.${THREAD_ENDING}`, import.meta.url),
);

/**
 * Checks an uploaded file in a child process.
 * @throws UserError where it cannot be used.
 */
export async function keepApart(kind: LayerKind, path: string, name: string): Promise<KeptLayer> {
  return (await isolated.run(
    { type: 'keep', kind, path, name },
    { name, timeLimitMs: LONGEST_MS },
  )) as KeptLayer;
}

/** What is known of a font of one's own. @throws UserError where it cannot be read. */
export async function readFaceApart(hash: string, path: string): Promise<FontFace> {
  const options = { name: 'This font', timeLimitMs: LONGEST_MS };
  return (await isolated.run({ type: 'face', hash, path }, options)) as FontFace;
}

/** Starts the reader before the first file comes. */
export function warmLayerReader(): void {
  isolated.warm();
}
