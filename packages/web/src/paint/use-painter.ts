import { type PointerEvent as ReactPointerEvent, useMemo, useRef, useState } from 'react';
import type { DrawWay } from '../stage/draw.js';
import { tellProblem } from '../ui/notify.js';
import { maskToCanvas, writeMask } from './mask-pictures.js';
import type { PaintHands } from './PaintGround.js';
import { createPainter, type PainterDoors, type PlaceOn } from './painter.js';
import { placeOfPointer } from './place-of-pointer.js';

/** Paint while the hand is down. */
export interface WetPaint {
  readonly canvas: OffscreenCanvas;
  /** Grows with every change, so that it is drawn again. */
  readonly version: number;
}

export interface Painting {
  readonly wet: WetPaint | null;
  readonly hands: PaintHands;
}

/** Where paint is loaded from and kept, and what it is painted with. */
export interface PaintKeeping extends Pick<PainterDoors, 'active' | 'load' | 'brush' | 'keep'> {
  /** All is kept. */
  dry?(): void;
}

interface PainterWish {
  readonly way: DrawWay;
  /** The same object as long as it is the same picture. */
  readonly keeping: PaintKeeping;
  /** The hand is about to begin a stroke. */
  readonly onBegin?: () => void;
  /** Where a place on the picture lies on what is painted, if not where it is seen. */
  readonly moved?: (place: PlaceOn) => PlaceOn;
}

/** Strokes on the picture: drawn at once, kept as a picture of their own when the hand lets go. */
export function usePainter({ way, keeping, onBegin, moved = (place) => place }: PainterWish): Painting {
  const canvas = useRef<OffscreenCanvas | null>(null);
  const [wet, setWet] = useState<WetPaint | null>(null);
  const painter = useMemo(
    () =>
      createPainter({
        ...keeping,
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
          keeping.dry?.();
        },
        failed: tellProblem,
      }),
    [keeping],
  );
  return {
    wet,
    hands: {
      onPointerDown(event: ReactPointerEvent<HTMLElement>) {
        if (event.button !== 0) return;
        event.currentTarget.setPointerCapture(event.pointerId);
        onBegin?.();
        painter.begin(moved(placeOfPointer(event.nativeEvent, event.currentTarget, way)));
      },
      onPointerMove(event: ReactPointerEvent<HTMLElement>) {
        const events = event.nativeEvent.getCoalescedEvents?.() ?? [];
        const all = events.length > 0 ? events : [event.nativeEvent];
        painter.move(all.map((one) => moved(placeOfPointer(one, event.currentTarget, way))));
      },
      onPointerUp: () => painter.end(),
    },
  };
}
