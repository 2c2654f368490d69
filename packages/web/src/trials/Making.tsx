import { Progress } from '@mantine/core';
import type { TrialView } from '@muted-pond/core/api';
import classes from './trials.module.css';

interface MakingProps {
  readonly trial: TrialView;
  readonly onCancel: () => void;
}

/** How far a trial in the making is, and a way to stop it. */
export function Making({ trial, onCancel }: MakingProps) {
  if (!trial.progress) return null;
  return (
    <>
      <strong>trial {trial.letter}</strong>
      {trial.progress.doing}
      <Progress
        className={classes.makingBar}
        value={trial.progress.done * 100}
        aria-label={`Trial ${trial.letter} in the making`}
      />
      <button type="button" className={classes.cancel} onClick={onCancel}>
        cancel
      </button>
    </>
  );
}
