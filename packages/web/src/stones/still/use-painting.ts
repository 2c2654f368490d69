import { beginStroke, createMask, type Mask, type Stroke } from '@muted-pond/core/still';
import { type PointerEvent as ReactPointerEvent, useRef, useState } from 'react';
import type { DrawWay } from '../../stage/draw.js';
import { tellProblem } from '../../ui/notify.js';
import { loopNow } from '../../workspace/piece-loop.js';
import { takeNow } from '../../workspace/piece-take.js';
import { useWorkspace } from '../../workspace/workspace-context.js';
import { keepMask, loadMask, maskToCanvas, writeMask } from './mask-pictures.js';
import { placeOnTake } from './pointer-place.js';
import { sizeOfMasks, withPaint } from './still-edits.js';
import { setStillView, useStillView } from './still-view.js';

/** How much of a new point a stroke follows at once: the rest is smoothed. */
const FOLLOW = 0.6;

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

interface Held {
  readonly mask: Mask;
  readonly canvas: OffscreenCanvas;
  readonly stroke: Stroke;
  x: number;
  y: number;
}

/** Strokes on the picture: drawn at once, kept as a picture of their own when the hand lets go, one undo step each. */
export function usePainting(way: DrawWay): Painting {
  const workspace = useWorkspace();
  const held = useRef<Held | null>(null);
  const [wet, setWet] = useState<WetPaint | null>(null);

  /** The ripple's paint, copied; while it loads, nothing is painted. */
  const begin = async (event: PointerEvent, ground: HTMLElement) => {
    const { active } = useStillView.getState();
    const { still } = workspace.store.getState().recipe;
    const take = takeNow(workspace);
    const ripple = still.ripples.find((one) => one.id === active);
    const size = sizeOfMasks(take.size);
    const before = ripple?.mask ? await loadMask(ripple.mask) : createMask(size.width, size.height);
    const mask = createMask(before.width, before.height, before.values.slice());
    const { softness, strength, way: paints, size: width } = useStillView.getState();
    const radius = Math.max(1, ((width / 2) * mask.width) / take.size.width);
    const stroke = beginStroke(mask, { radius, softness, strength, way: paints });
    const canvas = maskToCanvas(mask);
    const point = pointOf(event, ground, way, mask);
    held.current = { mask, canvas, stroke, x: point.x, y: point.y };
    writeMask(canvas, mask, stroke.add(point));
    setWet({ canvas, version: 0 });
  };

  const end = async () => {
    const now = held.current;
    held.current = null;
    if (!now) return;
    try {
      const hash = await keepMask(now.mask, 'The paint');
      const { place } = workspace.session.getState();
      const loop = loopNow(workspace);
      const frame = loop?.reel[Math.min(place, loop.round - 1)].source ?? 0;
      const { still } = workspace.store.getState().recipe;
      const painted = withPaint(still, useStillView.getState().active, hash, frame);
      workspace.store.getState().change((recipe) => ({ ...recipe, still: painted.still }));
      setStillView({ active: painted.id });
    } catch (error) {
      tellProblem(error);
    } finally {
      setWet(null);
    }
  };

  return {
    wet,
    onPointerDown(event) {
      if (event.button !== 0 || held.current) return;
      event.currentTarget.setPointerCapture(event.pointerId);
      begin(event.nativeEvent, event.currentTarget).catch(tellProblem);
    },
    onPointerMove(event) {
      const now = held.current;
      if (!now) return;
      const events = event.nativeEvent.getCoalescedEvents?.() ?? [];
      for (const one of events.length > 0 ? events : [event.nativeEvent]) {
        const point = pointOf(one, event.currentTarget, way, now.mask);
        now.x += (point.x - now.x) * FOLLOW;
        now.y += (point.y - now.y) * FOLLOW;
        writeMask(now.canvas, now.mask, now.stroke.add({ ...point, x: now.x, y: now.y }));
      }
      setWet((before) => before && { ...before, version: before.version + 1 });
    },
    onPointerUp() {
      void end();
    },
  };
}

function pointOf(event: PointerEvent, target: HTMLElement, way: DrawWay, mask: Mask) {
  const box = target.getBoundingClientRect();
  const at = placeOnTake(way, (event.clientX - box.left) / box.width, (event.clientY - box.top) / box.height);
  return {
    x: (at.x * mask.width) / way.takeSize.width,
    y: (at.y * mask.height) / way.takeSize.height,
    pressure: event.pointerType === 'pen' ? Math.max(0.05, event.pressure) : 1,
  };
}
