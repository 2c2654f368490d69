import type { LayerKind } from '@muted-pond/core/api';
import type { FontFace } from '@muted-pond/core/dress';
import { readFace } from '../text/index.js';
import { type KeptLayer, LAYER_KEEPERS } from './keep-layer.js';

/** What is asked of the process that reads layers. */
export type LayerRequest =
  | { readonly type: 'keep'; readonly kind: LayerKind; readonly path: string; readonly name: string }
  | { readonly type: 'face'; readonly hash: string; readonly path: string };

export function answerLayerRequest(request: LayerRequest): Promise<KeptLayer | FontFace> {
  return request.type === 'keep'
    ? LAYER_KEEPERS[request.kind].keep(request.path, request.name)
    : readFace(request.hash, request.path);
}
