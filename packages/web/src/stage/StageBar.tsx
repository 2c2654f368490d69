import type { ReactNode } from 'react';
import classes from './stage.module.css';

/** Controls and figures under the picture: what one does on the left, where one is on the right. */
export function StageBar({ left, right }: { left?: ReactNode; right?: ReactNode }) {
  return (
    <div className={classes.bar}>
      {left && <div className={classes.pill}>{left}</div>}
      {right && <div className={`${classes.pill} ${classes.pillEnd}`}>{right}</div>}
    </div>
  );
}
