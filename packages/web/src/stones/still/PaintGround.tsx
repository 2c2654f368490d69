import { turnedSize } from '@muted-pond/core/pixels';
import { useRef, useState } from 'react';
import type { StageGround } from '../../stage/StageRoom.js';
import { panBy } from '../../stage/zoom-view.js';
import classes from './still.module.css';
import { useStillView } from './still-view.js';
import type { Painting } from './use-painting.js';

interface PaintGroundProps {
  readonly shown: StageGround['shown'];
  readonly way: StageGround['way'];
  readonly zoom: number;
  readonly painting: Painting;
}

/** Width of the cursor's rings on the screen, px. */
const RING_PX = 1.5;

/** Takes the strokes; its cursor shows the brush's core and its soft rim. */
export function PaintGround({ shown, way, zoom, painting }: PaintGroundProps) {
  const { size, softness, way: paints } = useStillView();
  const [at, setAt] = useState<{ x: number; y: number } | null>(null);
  const panning = useRef<{ x: number; y: number } | null>(null);
  const perTakePx = shown.width / turnedSize(way.part, way.turn).width;
  const radius = (size / 2) * perTakePx;
  const { onPointerDown, onPointerMove, onPointerUp } = painting;
  return (
    <div
      className={classes.ground}
      data-testid="paint"
      data-painting={painting.wet !== null || undefined}
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
          panBy((event.clientX - from.x) / shown.width, (event.clientY - from.y) / shown.height);
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
