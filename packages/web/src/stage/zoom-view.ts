import { createPieceView } from '../store/piece-view.js';

/** How close the picture is looked at, and where its middle lies, in shares of the shown size. */
export interface ZoomView {
  readonly zoom: number;
  readonly panX: number;
  readonly panY: number;
}

const WHOLE: ZoomView = { zoom: 1, panX: 0, panY: 0 };
const MOST_ZOOM = 16;

export const useZoomView = createPieceView<ZoomView>(WHOLE);

export function showWhole(): void {
  useZoomView.setState(WHOLE);
}

/**
 * Closer or wider so that the point under the pointer stays;
 * @param x and y in shares of the room from its middle.
 */
export function zoomAt(factor: number, x: number, y: number): void {
  useZoomView.setState(({ zoom, panX, panY }) => {
    const next = Math.max(1, Math.min(MOST_ZOOM, zoom * factor));
    const kept = next / zoom;
    return { zoom: next, ...panWithin(x - (x - panX) * kept, y - (y - panY) * kept, next) };
  });
}

export function panBy(x: number, y: number): void {
  useZoomView.setState(({ zoom, panX, panY }) => panWithin(panX + x, panY + y, zoom));
}

/** How an element of the shown size is moved and enlarged. */
export function zoomTransform(
  { zoom, panX, panY }: ZoomView,
  shown: { readonly width: number; readonly height: number },
): string {
  return `translate(${panX * shown.width}px, ${panY * shown.height}px) scale(${zoom})`;
}

/** The picture does not leave its place further than its own half. */
function panWithin(x: number, y: number, zoom: number): { panX: number; panY: number } {
  const most = (zoom - 1) / 2;
  return { panX: Math.max(-most, Math.min(most, x)), panY: Math.max(-most, Math.min(most, y)) };
}
