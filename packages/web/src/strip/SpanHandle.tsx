import { useState } from 'react';
import classes from './strip.module.css';

interface SpanHandleProps {
  readonly which: 'start' | 'end';
  /** Its place along the strip, 0–1. */
  readonly share: number;
  readonly boundary: number;
  /** The frame it stands for: the first or the last of the span. */
  readonly frame: number;
  readonly limits: readonly [number, number];
  readonly footage: string;
  readonly clock: string;
  readonly boundaryAt: (clientX: number) => number;
  readonly onHold: (held: boolean) => void;
  readonly onDrag: (boundary: number) => void;
  readonly onKeep: () => void;
  readonly onCancel: () => void;
}

/** A stone under the strip. Dragged, it shows the frame it stands for; Escape puts it back. */
export function SpanHandle(props: SpanHandleProps) {
  const { which, share, boundary, frame, limits, footage, clock, onHold, onDrag, onKeep, onCancel } = props;
  const [held, setHeld] = useState(false);
  const letGo = () => {
    setHeld(false);
    onHold(false);
  };
  const step = (by: number) => {
    onDrag(Math.max(limits[0], Math.min(limits[1], boundary + by)));
    onKeep();
  };
  return (
    <div className={classes.handlePlace} style={{ left: `${share * 100}%` }}>
      {held && (
        <div className={share > 0.5 ? classes.bubbleLeft : classes.bubble}>
          <img src={`/api/footage/${footage}/frames/${frame}`} alt="" />
          <span>
            {which} · {clock} · frame {frame}
          </span>
        </div>
      )}
      <button
        type="button"
        role="slider"
        className={classes.handle}
        aria-label={which === 'start' ? 'Start of the span' : 'End of the span'}
        aria-valuemin={limits[0]}
        aria-valuemax={limits[1]}
        aria-valuenow={boundary}
        aria-valuetext={`${clock}, frame ${frame}`}
        onPointerDown={(event) => {
          event.currentTarget.setPointerCapture(event.pointerId);
          setHeld(true);
          onHold(true);
        }}
        onPointerMove={(event) => held && onDrag(props.boundaryAt(event.clientX))}
        onPointerUp={() => {
          letGo();
          onKeep();
        }}
        onPointerCancel={() => {
          letGo();
          onCancel();
        }}
        onKeyDown={(event) => {
          if (event.key === 'Escape' && held) {
            letGo();
            onCancel();
          }
          const by = { ArrowLeft: -1, ArrowRight: 1, ArrowDown: -1, ArrowUp: 1 }[event.key];
          if (by === undefined) return;
          event.preventDefault();
          event.stopPropagation();
          step(event.shiftKey ? by * 10 : by);
        }}
      />
    </div>
  );
}
