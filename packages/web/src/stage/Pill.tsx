import type { ReactNode } from 'react';
import classes from './stage.module.css';

/** A line of figures floating on the stage. */
export function Pill({ side, children }: { side: 'left' | 'right'; children: ReactNode }) {
  return <div className={side === 'left' ? classes.pillLeft : classes.pillRight}>{children}</div>;
}
