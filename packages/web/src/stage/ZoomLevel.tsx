import { Tooltip } from '@mantine/core';
import classes from './stage.module.css';
import { showWhole, useZoomView } from './zoom-view.js';

/** How close the picture is, while it is; a click shows all of it. */
export function ZoomLevel() {
  const zoom = useZoomView((view) => view.zoom);
  if (zoom <= 1) return null;
  return (
    <Tooltip label="Show all of the picture (Home)">
      <button type="button" className={classes.zoom} onClick={showWhole} aria-label="Show all of the picture">
        {Math.round(zoom * 100)} %
      </button>
    </Tooltip>
  );
}
