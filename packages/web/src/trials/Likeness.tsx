import type { TrialView } from '@muted-pond/core/api';
import { commonWidth, seenLikeness } from './seen-likeness.js';
import { useTrialsView } from './use-trials.js';

/** How like the source a trial looks among the trials of its piece; or that it is being, or cannot be, measured. */
export function Likeness({ trial }: { trial: TrialView | null }) {
  const { trials } = useTrialsView();
  if (!trial) return null;
  const width = commonWidth(trials);
  const likeness = seenLikeness(trial, width);
  if (likeness !== null) return likeness.toFixed(3);
  const problem = trial.seen?.width === width ? trial.seen.problem : undefined;
  return problem ? <span title={problem}>not known</span> : '…';
}
