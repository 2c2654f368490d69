import { useRef, useState } from 'react';
import classes from './strip.module.css';

interface SpanHandleProps {
  readonly which: 'start' | 'end';
  /** Its place along what is shown; outside 0–1 it is not in sight. */
  readonly share: number;
  readonly boundary: number;
  /** The frame it stands for: the first or the last of the span. */
  readonly frame: number;
  readonly limits: readonly [number, number];
  readonly clock: string;
  /** What caught it, while it is caught. */
  readonly caughtBy: string | null;
  readonly onHold: (held: boolean) => void;
  /** @param free marks do not catch it. */
  readonly onDrag: (clientX: number, free: boolean) => void;
  readonly onStep: (boundary: number) => void;
  readonly onKeep: () => void;
  readonly onCancel: () => void;
}

/** A stone under the strip. While it is moved, the stage shows both ends of the span; Escape puts it back. */
export function SpanHandle(props: SpanHandleProps) {
  const { which, share, boundary, frame, limits, clock, caughtBy, onHold, onDrag, onKeep, onCancel } = props;
  const [held, setHeld] = useState(false);
  const downAt = useRef<number | null>(null);
  const letGo = () => {
    downAt.current = null;
    setHeld(false);
    onHold(false);
  };
  if (share < -0.001 || share > 1.001) return null;
  return (
    <div className={classes.handlePlace} style={{ left: `${share * 100}%` }}>
      {held && (
        <div className={classes.handleTag} data-caught={caughtBy !== null || undefined}>
          {clock} · frame {frame}
          {caughtBy && ` · ${caughtBy}`}
        </div>
      )}
      <button
        type="button"
        role="slider"
        className={classes.handle}
        data-caught={(held && caughtBy !== null) || undefined}
        aria-label={which === 'start' ? 'Start of the span' : 'End of the span'}
        aria-valuemin={limits[0]}
        aria-valuemax={limits[1]}
        aria-valuenow={boundary}
        aria-valuetext={`${clock}, frame ${frame}`}
        title="Drag; Shift lets it pass marks"
        onPointerDown={(event) => {
          event.currentTarget.setPointerCapture(event.pointerId);
          downAt.current = event.clientX;
        }}
        onPointerMove={(event) => {
          if (downAt.current === null) return;
          // A press without a move is not a drag: the stage stays as it is.
          if (!held && Math.abs(event.clientX - downAt.current) < 2) return;
          if (!held) {
            setHeld(true);
            onHold(true);
          }
          onDrag(event.clientX, event.shiftKey);
        }}
        onPointerUp={() => {
          const moved = held;
          letGo();
          if (moved) onKeep();
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
          const step = event.shiftKey ? by * 10 : by;
          props.onStep(Math.max(limits[0], Math.min(limits[1], boundary + step)));
        }}
      />
    </div>
  );
}
