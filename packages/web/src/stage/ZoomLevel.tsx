import { showWhole, useZoomView } from './zoom-view.js';

/** How close the picture is, while it is; a click shows all of it. */
export function ZoomLevel() {
  const zoom = useZoomView((view) => view.zoom);
  if (zoom <= 1) return null;
  return (
    <button type="button" onClick={showWhole}>
      {Math.round(zoom * 100)} %
    </button>
  );
}
