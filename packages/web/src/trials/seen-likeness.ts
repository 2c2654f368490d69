import type { TrialView } from '@muted-pond/core/api';
import { useTrialsView } from './use-trials.js';

/** Width of the widest finished trial: at that one all are compared. */
export function commonWidth(trials: readonly TrialView[]): number {
  return Math.max(0, ...trials.map((trial) => (trial.state === 'done' ? (trial.figures?.width ?? 0) : 0)));
}

/** How like the source a trial looks beside the others; null until that is measured. */
export function seenLikeness({ seen }: TrialView, width: number): number | null {
  return seen && seen.width === width ? seen.value : null;
}

export function likenessText(likeness: number | null): string {
  return likeness === null ? '…' : likeness.toFixed(3);
}

/** A trial's likeness as it is shown: among the trials of its piece. */
export function useSeenLikeness(trial: TrialView | null): string {
  const { trials } = useTrialsView();
  return trial ? likenessText(seenLikeness(trial, commonWidth(trials))) : '';
}
