import { createMask, type Mask } from '@muted-pond/core/still';
import { type PointerEvent as ReactPointerEvent, useMemo, useRef, useState } from 'react';
import { keepMask, loadMask, maskToCanvas, writeMask } from '../../paint/mask-pictures.js';
import { sizeOfMasks } from '../../paint/mask-size.js';
import { createPainter, type PainterDoors } from '../../paint/painter.js';
import { placeOfPointer } from '../../paint/place-of-pointer.js';
import { loopNow } from '../../piece/piece-loop.js';
import { takeNow } from '../../piece/piece-take.js';
import { useWorkspace, type Workspace } from '../../piece/workspace-context.js';
import type { DrawWay } from '../../stage/draw.js';
import { tellProblem } from '../../ui/notify.js';
import { withPaint } from './still-edits.js';
import { setStillView, useStillView } from './still-view.js';

/** A ripple's paint while the hand is down. */
export interface WetPaint {
  readonly canvas: OffscreenCanvas;
  /** Grows with every change, so that it is drawn again. */
  readonly version: number;
}

export interface Painting {
  readonly wet: WetPaint | null;
  readonly onPointerDown: (event: ReactPointerEvent<HTMLElement>) => void;
  readonly onPointerMove: (event: ReactPointerEvent<HTMLElement>) => void;
  readonly onPointerUp: (event: ReactPointerEvent<HTMLElement>) => void;
}

/**
 * Strokes on the picture: drawn at once, kept as a picture of their own when the hand lets go, one undo step
 * each.
 */
export function usePainting(way: DrawWay): Painting {
  const workspace = useWorkspace();
  const canvas = useRef<OffscreenCanvas | null>(null);
  const [wet, setWet] = useState<WetPaint | null>(null);
  const painter = useMemo(
    () =>
      createPainter({
        ...paintDoors(workspace),
        begun(mask) {
          canvas.current = maskToCanvas(mask);
          setWet({ canvas: canvas.current, version: 0 });
        },
        painted(mask, part) {
          if (canvas.current) writeMask(canvas.current, mask, part);
          setWet((before) => before && { ...before, version: before.version + 1 });
        },
        dry() {
          setWet(null);
          setStillView({ firstHeld: null });
        },
        failed: tellProblem,
      }),
    [workspace],
  );
  return {
    wet,
    onPointerDown(event) {
      if (event.button !== 0) return;
      event.currentTarget.setPointerCapture(event.pointerId);
      if (!workspace.store.getState().recipe.still.plate) setStillView({ firstHeld: shownFrame(workspace) });
      painter.begin(placeOfPointer(event.nativeEvent, event.currentTarget, way));
    },
    onPointerMove(event) {
      const events = event.nativeEvent.getCoalescedEvents?.() ?? [];
      const all = events.length > 0 ? events : [event.nativeEvent];
      painter.move(all.map((one) => placeOfPointer(one, event.currentTarget, way)));
    },
    onPointerUp: () => painter.end(),
  };
}

/** Loads and keeps paint where the piece keeps it. */
function paintDoors(workspace: Workspace): Pick<PainterDoors, 'active' | 'load' | 'brush' | 'keep'> {
  const ripplesNow = () => workspace.store.getState().recipe.still.ripples;
  return {
    active() {
      const { active } = useStillView.getState();
      return ripplesNow().some((ripple) => ripple.id === active) ? active : null;
    },
    async load({ id }) {
      const ripple = ripplesNow().find((one) => one.id === id);
      const size = sizeOfMasks(takeNow(workspace).size);
      return ripple?.mask ? loadMask(ripple.mask) : createMask(size.width, size.height);
    },
    brush(mask: Mask) {
      const { softness, strength, way, size } = useStillView.getState();
      const radius = Math.max(1, ((size / 2) * mask.width) / takeNow(workspace).size.width);
      return { radius, softness, strength, way };
    },
    async keep(mask, target) {
      const hash = await keepMask(mask, 'The paint');
      const frame = useStillView.getState().firstHeld ?? shownFrame(workspace);
      const { still } = workspace.store.getState().recipe;
      const painted = withPaint(still, target.id, hash, frame);
      workspace.store.getState().change((recipe) => ({ ...recipe, still: painted.still }));
      // Whoever went on to another ripple meanwhile stays there.
      if (useStillView.getState().active === target.id || target.id === null) {
        setStillView({ active: painted.id });
      }
      target.id = painted.id;
    },
  };
}

/** The frame of the take on the stage. */
function shownFrame(workspace: Workspace): number {
  const { place } = workspace.session.getState();
  const loop = loopNow(workspace);
  return loop?.reel[Math.min(place, loop.round - 1)].source ?? 0;
}
