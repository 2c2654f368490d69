import type { LayerKind, LayerView, MotionView } from '@muted-pond/core/api';
import { type Cube, readCube } from '@muted-pond/core/colour';
import { UserError } from '@muted-pond/core/errors';
import { footagePath } from '@muted-pond/core/identity';
import type { Span } from '@muted-pond/core/timing';
import { useQuery } from '@tanstack/react-query';
import { callApi } from './client.js';
import { fetchWhole } from './fetch-whole.js';
import { layerUrl } from './frame-urls.js';
import { keys, queryClient } from './queries.js';
import { rememberSent } from './sent-layers.js';

/** Keeps a painted mask or a retouched plate. */
export const putLayer = (png: Blob, name: string): Promise<LayerView> => putLayerFile(png, name, 'picture');

/** Keeps a file that a recipe uses beside footage. @throws UserError in a sentence. */
export async function putLayerFile(file: Blob, name: string, kind: LayerKind): Promise<LayerView> {
  const response = await fetch(`/api/layers?name=${encodeURIComponent(name)}&kind=${kind}`, {
    method: 'POST',
    headers: { 'content-type': 'application/octet-stream' },
    body: file,
  });
  const body: unknown = await response.json().catch(() => null);
  if (response.ok) {
    const view = body as LayerView;
    rememberSent(view.hash, file, name, (again, called) => putLayerFile(again, called, kind));
    return view;
  }
  const title = (body as { title?: unknown } | null)?.title;
  throw new UserError(
    'request_refused',
    typeof title === 'string' ? title : `“${name}” cannot be kept now. Try it again.`,
  );
}

/** A kept table of colours. */
export async function fetchTable(hash: string): Promise<Cube> {
  const gone = 'The table of colours is gone from the disk. Undo, or bring it in again.';
  return readCube(await (await fetchWhole(layerUrl(hash), gone)).text());
}

export const fullFrameUrl = (footage: string, frame: number, saveAs: string) =>
  `/api/footage/${footagePath(footage, 'full', frame)}&saveAs=${encodeURIComponent(saveAs)}`;

export interface Motion extends Omit<MotionView, 'labels'> {
  /** The part each place belongs to, from 1; 0 stands still. */
  readonly labels: Uint8Array;
}

const motionQuery = (footage: string, { start, end }: Span) => ({
  queryKey: keys.motion(footage, start, end),
  queryFn: () => readMotion(footage, start, end),
  staleTime: Number.POSITIVE_INFINITY,
});

/** Which parts of footage move in a span. */
export const useMotion = (footage: string | null, span: Span) =>
  useQuery({ ...motionQuery(footage ?? '', span), enabled: footage !== null });

export const fetchMotion = (footage: string, span: Span) =>
  queryClient.fetchQuery(motionQuery(footage, span));

async function readMotion(footage: string, from: number, to: number): Promise<Motion> {
  const view = await callApi<MotionView>(
    'GET',
    `footage/${footagePath(footage, 'motion')}&from=${from}&to=${to}`,
  );
  return { ...view, labels: Uint8Array.from(atob(view.labels), (c) => c.charCodeAt(0)) };
}
