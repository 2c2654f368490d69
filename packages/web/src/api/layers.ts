import type { LayerView, MotionView } from '@muted-pond/core/api';
import { callApi } from './client.js';

/** Keeps a painted mask or a retouched plate. */
export async function putLayer(png: Blob, name: string): Promise<LayerView> {
  const response = await fetch(`/api/layers?name=${encodeURIComponent(name)}`, { method: 'POST', body: png });
  const body: unknown = await response.json().catch(() => null);
  if (response.ok) return body as LayerView;
  const title = (body as { title?: unknown } | null)?.title;
  throw new Error(typeof title === 'string' ? title : `“${name}” cannot be kept now. Try it again.`);
}

export const layerUrl = (hash: string) => `/api/layers/${hash}`;

export const fullFrameUrl = (footage: string, frame: number, saveAs: string) =>
  `/api/footage/${footage}/full/${frame}?saveAs=${encodeURIComponent(saveAs)}`;

export interface Motion extends Omit<MotionView, 'labels'> {
  /** The part each place belongs to, from 1; 0 stands still. */
  readonly labels: Uint8Array;
}

/** Which parts of footage move between two frames. */
export async function fetchMotion(footage: string, from: number, to: number): Promise<Motion> {
  const view = await callApi<MotionView>('GET', `footage/${footage}/motion?from=${from}&to=${to}`);
  return { ...view, labels: Uint8Array.from(atob(view.labels), (c) => c.charCodeAt(0)) };
}
