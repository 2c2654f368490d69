import { useHotkeys } from '@mantine/hooks';
import { type RefObject, useEffect } from 'react';
import { useStore } from 'zustand';
import { takeNow, useTake } from '../piece/piece-take.js';
import { endHere, startHere } from '../piece/span-edits.js';
import { useWorkspace, type Workspace } from '../piece/workspace-context.js';
import type { StripView } from '../store/session-store.js';
import { fitView, scrollView, showFrame, wholeView, zoomView } from './strip-view.js';

/** Zoom of one notch of the wheel or one press of a key. */
const NOTCH = 1.25;
const PX_PER_NOTCH = 90;

export function useStripView(): StripView {
  const { session } = useWorkspace();
  const { times } = useTake();
  const view = useStore(session, (state) => state.stripView);
  return view ? fitView(view, times) : wholeView(times);
}

/** Shows another stretch of the take; the whole one is kept as such, whatever becomes of the take. */
export function changeStripView(workspace: Workspace, change: (view: StripView) => StripView): void {
  const { times } = takeNow(workspace);
  const { stripView, showStrip } = workspace.session.getState();
  const view = change(stripView ? fitView(stripView, times) : wholeView(times));
  showStrip(view.to - view.from >= times.duration * 0.999 ? null : view);
}

/** Wheel and pinch on the strip; ↑, ↓ and the keys of the span anywhere; what is stepped to comes into sight. */
export function useStripControls(band: RefObject<HTMLDivElement | null>): void {
  const workspace = useWorkspace();
  const { session } = workspace;

  useEffect(() => {
    const element = band.current;
    if (!element) return;
    // Not React's own listener: that one may not keep the page from zooming.
    const onWheel = (event: WheelEvent) => {
      event.preventDefault();
      const box = element.getBoundingClientRect();
      const scale = event.deltaMode === WheelEvent.DOM_DELTA_LINE ? 30 : 1;
      const { times } = takeNow(workspace);
      const across = event.shiftKey ? event.deltaX || event.deltaY : event.deltaX;
      if (event.shiftKey || Math.abs(event.deltaX) > Math.abs(event.deltaY)) {
        changeStripView(workspace, (view) => scrollView(view, times, (across * scale) / box.width));
        return;
      }
      // A pinch arrives as a wheel with Ctrl, in finer steps.
      const notches = (event.deltaY * scale) / (event.ctrlKey ? PX_PER_NOTCH / 5 : PX_PER_NOTCH);
      const share = (event.clientX - box.left) / box.width;
      changeStripView(workspace, (view) => zoomView(view, times, NOTCH ** notches, share));
    };
    element.addEventListener('wheel', onWheel, { passive: false });
    return () => element.removeEventListener('wheel', onWheel);
  }, [band, workspace]);

  const zoomAtPlayhead = (factor: number) => () => {
    const { times } = takeNow(workspace);
    const at = times.starts[session.getState().playhead] ?? 0;
    changeStripView(workspace, (view) => {
      const share = (at - view.from) / (view.to - view.from);
      return zoomView(view, times, factor, share >= 0 && share <= 1 ? share : 0.5);
    });
  };
  useHotkeys([
    ['ArrowUp', zoomAtPlayhead(1 / NOTCH ** 2)],
    ['ArrowDown', zoomAtPlayhead(NOTCH ** 2)],
    ['Home', () => session.getState().showStrip(null)],
    // The stones of the span stand under this strip.
    ['S', () => startHere(workspace)],
    ['E', () => endHere(workspace)],
  ]);

  useEffect(
    () =>
      session.subscribe((now, before) => {
        if (now.playhead === before.playhead || now.playing || !now.stripView) return;
        const { times } = takeNow(workspace);
        changeStripView(workspace, (view) => showFrame(view, times, now.playhead));
      }),
    [session, workspace],
  );
}
