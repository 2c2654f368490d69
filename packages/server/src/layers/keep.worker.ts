import { parentPort } from 'node:worker_threads';
import type { LayerKind } from '@muted-pond/core/api';
import { UserError, type UserErrorCode } from '@muted-pond/core/errors';
import { type KeptLayer, LAYER_KEEPERS } from './keep-layer.js';

export interface KeepRequest {
  readonly kind: LayerKind;
  readonly path: string;
  readonly name: string;
}

export type KeepReply =
  | { readonly type: 'kept'; readonly layer: KeptLayer }
  | { readonly type: 'refused'; readonly code: UserErrorCode; readonly message: string }
  | { readonly type: 'broken'; readonly stack: string };

parentPort?.once('message', async ({ kind, path, name }: KeepRequest) => {
  const reply = await LAYER_KEEPERS[kind].keep(path, name).then(
    (layer): KeepReply => ({ type: 'kept', layer }),
    (error: unknown): KeepReply =>
      error instanceof UserError
        ? { type: 'refused', code: error.code, message: error.message }
        : { type: 'broken', stack: error instanceof Error ? String(error.stack) : String(error) },
  );
  parentPort?.postMessage(reply);
});
