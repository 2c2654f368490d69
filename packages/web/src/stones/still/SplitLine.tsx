import { useMove } from '@mantine/hooks';
import classes from './still.module.css';
import { setStillView, useStillView } from './still-view.js';

const KEY_STEP = 0.02;

/** The line between the take as filmed and the held picture; dragged, or moved by keys. */
export function SplitLine({ zoom }: { zoom: number }) {
  const splitAt = useStillView((view) => view.splitAt);
  const moveTo = (share: number) => setStillView({ splitAt: Math.max(0, Math.min(1, share)) });
  const { ref } = useMove<HTMLDivElement>(({ x }) => moveTo(x));
  return (
    <div className={classes.split}>
      <div ref={ref} className={classes.splitTrack}>
        <div
          className={classes.splitHandle}
          style={{ left: `${splitAt * 100}%`, transform: `translateX(-50%) scale(${1 / zoom})` }}
          role="slider"
          tabIndex={0}
          aria-label="As filmed on the left, held on the right"
          aria-valuemin={0}
          aria-valuemax={100}
          aria-valuenow={Math.round(splitAt * 100)}
          onKeyDown={(event) => {
            const by = { ArrowLeft: -KEY_STEP, ArrowRight: KEY_STEP }[event.key];
            if (!by) return;
            event.stopPropagation();
            event.preventDefault();
            moveTo(splitAt + by);
          }}
        />
      </div>
      <div className={classes.splitLine} style={{ left: `${splitAt * 100}%` }} />
      <span className={classes.splitLeft}>as filmed</span>
      <span className={classes.splitRight}>held</span>
    </div>
  );
}
