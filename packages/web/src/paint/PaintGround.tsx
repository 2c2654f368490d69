import { turnedSize } from '@muted-pond/core/pixels';
import { type PointerEvent as ReactPointerEvent, useRef, useState } from 'react';
import type { StageGround } from '../stage/StageRoom.js';
import classes from './paint.module.css';

/** Handlers of pointer events. */
export interface PaintHands {
  readonly onPointerDown: (event: ReactPointerEvent<HTMLElement>) => void;
  readonly onPointerMove: (event: ReactPointerEvent<HTMLElement>) => void;
  readonly onPointerUp: (event: ReactPointerEvent<HTMLElement>) => void;
}

/** The brush as its cursor shows it. */
export interface BrushLook {
  /** Across, px of the take. */
  readonly size: number;
  readonly softness: number;
  readonly way: 'stir' | 'calm';
}

interface PaintGroundProps {
  readonly shown: StageGround['shown'];
  readonly way: StageGround['way'];
  readonly zoom: number;
  readonly brush: BrushLook;
  readonly isPainting: boolean;
  readonly hands: PaintHands;
  /** The picture is moved while the middle button is down, shares of it. */
  readonly onPan: (across: number, down: number) => void;
}

/** Width of the cursor's rings on the screen, px. */
const RING_PX = 1.5;

/** Takes the strokes; its cursor shows the brush's core and its soft rim. */
export function PaintGround({ shown, way, zoom, brush, isPainting, hands, onPan }: PaintGroundProps) {
  const { size, softness, way: paints } = brush;
  const [at, setAt] = useState<{ x: number; y: number } | null>(null);
  const panning = useRef<{ x: number; y: number } | null>(null);
  const perTakePx = shown.width / turnedSize(way.part, way.turn).width;
  const radius = (size / 2) * perTakePx;
  const { onPointerDown, onPointerMove, onPointerUp } = hands;
  return (
    <div
      className={classes.ground}
      data-testid="paint"
      data-painting={isPainting || undefined}
      onPointerDown={(event) => {
        if (event.button === 1) {
          event.preventDefault();
          event.currentTarget.setPointerCapture(event.pointerId);
          panning.current = { x: event.clientX, y: event.clientY };
          return;
        }
        onPointerDown(event);
      }}
      onPointerMove={(event) => {
        const from = panning.current;
        if (from) {
          onPan((event.clientX - from.x) / shown.width, (event.clientY - from.y) / shown.height);
          panning.current = { x: event.clientX, y: event.clientY };
          return;
        }
        const box = event.currentTarget.getBoundingClientRect();
        setAt({ x: (event.clientX - box.left) / zoom, y: (event.clientY - box.top) / zoom });
        onPointerMove(event);
      }}
      onPointerUp={(event) => {
        if (panning.current) panning.current = null;
        else onPointerUp(event);
      }}
      onPointerCancel={onPointerUp}
      onPointerLeave={() => setAt(null)}
    >
      {at && (
        <svg className={classes.cursor} aria-hidden="true" data-way={paints}>
          <circle cx={at.x} cy={at.y} r={radius} strokeWidth={RING_PX / zoom} />
          <circle cx={at.x} cy={at.y} r={radius * (1 - softness)} strokeWidth={RING_PX / zoom} />
        </svg>
      )}
    </div>
  );
}
