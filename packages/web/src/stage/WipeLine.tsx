import { useMove } from '@mantine/hooks';
import classes from './stage.module.css';

const KEY_STEP = 0.02;

interface WipeLineProps {
  /** Where it stands, share of the width. */
  readonly at: number;
  readonly onMove: (at: number) => void;
  readonly left: string;
  readonly right: string;
  /** How much the picture is enlarged; the handle is not. */
  readonly zoom: number;
}

/** The line between two pictures that lie on each other; dragged, or moved by keys. */
export function WipeLine({ at, onMove, left, right, zoom }: WipeLineProps) {
  const moveTo = (share: number) => onMove(Math.max(0, Math.min(1, share)));
  const { ref } = useMove<HTMLDivElement>(({ x }) => moveTo(x));
  return (
    <div className={classes.wipe}>
      <div ref={ref} className={classes.wipeTrack}>
        <div
          className={classes.wipeHandle}
          style={{ left: `${at * 100}%`, transform: `translateX(-50%) scale(${1 / zoom})` }}
          role="slider"
          tabIndex={0}
          aria-label={`${left} on the left, ${right} on the right`}
          aria-valuemin={0}
          aria-valuemax={100}
          aria-valuenow={Math.round(at * 100)}
          onKeyDown={(event) => {
            const by = { ArrowLeft: -KEY_STEP, ArrowRight: KEY_STEP }[event.key];
            if (!by) return;
            event.stopPropagation();
            event.preventDefault();
            moveTo(at + by);
          }}
        />
      </div>
      <div className={classes.wipeLine} style={{ left: `${at * 100}%` }} />
      <span className={classes.wipeLeft}>{left}</span>
      <span className={classes.wipeRight}>{right}</span>
    </div>
  );
}
