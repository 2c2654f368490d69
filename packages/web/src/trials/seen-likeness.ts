import type { TrialView } from '@muted-pond/core/api';

/** Width of the widest finished trial: at that one all are compared. */
export function commonWidth(trials: readonly TrialView[]): number {
  return Math.max(0, ...trials.map((trial) => (trial.state === 'done' ? (trial.figures?.width ?? 0) : 0)));
}

/** How like the source a trial looks beside the others; null until that is measured. */
export function seenLikeness({ seen }: TrialView, width: number): number | null {
  return seen && seen.width === width ? seen.value : null;
}
