import { Button, Progress } from '@mantine/core';
import classes from './trials.module.css';
import type { Savings } from './use-savings.js';

/** How far the trying is, and a way to end it; nothing where nothing is tried. */
export function SavingsProgress({ savings, label }: { savings: Savings; label: string }) {
  const { view, stop } = savings;
  if (view?.state === 'failed') return <p className={classes.refused}>{view.problem}</p>;
  if (view?.state !== 'working') return null;
  return (
    <div className={classes.trying} role="status">
      <span>{view.doing}</span>
      <Progress size="sm" color="lily" value={view.done * 100} aria-label={label} />
      <Button size="compact-sm" variant="default" onClick={stop}>
        Stop
      </Button>
    </div>
  );
}
