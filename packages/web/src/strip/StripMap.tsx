import { spanSeconds } from '@muted-pond/core/timing';
import { type PointerEvent as ReactPointerEvent, useRef } from 'react';
import { useStore } from 'zustand';
import { useTake } from '../piece/piece-take.js';
import { useWorkspace } from '../piece/workspace-context.js';
import { shownRecipe } from '../store/piece-store.js';
import classes from './strip.module.css';
import { fitView } from './strip-view.js';
import { changeStripView, useStripView } from './use-strip-view.js';

/**
 * Once the strip is closer than the whole take: where in the take it is. Drag it along; a click goes there.
 */
export function StripMap() {
  const workspace = useWorkspace();
  const { store, session } = workspace;
  const { times } = useTake();
  const view = useStripView();
  const isClose = useStore(session, (state) => state.stripView !== null);
  const span = useStore(store, (state) => shownRecipe(state).span);
  const bar = useRef<HTMLDivElement>(null);
  if (!isClose) return <div className={classes.map} data-idle />;

  const percent = (seconds: number) => `${(seconds / times.duration) * 100}%`;
  const go = (event: ReactPointerEvent) => {
    const box = bar.current?.getBoundingClientRect();
    if (event.buttons !== 1 || !box) return;
    const at = ((event.clientX - box.left) / box.width) * times.duration;
    changeStripView(workspace, ({ from, to }) => {
      const half = (to - from) / 2;
      return fitView({ from: at - half, to: at + half }, times);
    });
  };
  return (
    <div
      ref={bar}
      className={classes.map}
      data-testid="strip-map"
      onPointerDown={(event) => {
        event.currentTarget.setPointerCapture(event.pointerId);
        go(event);
      }}
      onPointerMove={go}
    >
      <span
        className={classes.mapSpan}
        style={{ left: percent(times.starts[span.start] ?? 0), width: percent(spanSeconds(times, span)) }}
      />
      <span
        className={classes.mapView}
        style={{ left: percent(view.from), width: percent(view.to - view.from) }}
      />
    </div>
  );
}
