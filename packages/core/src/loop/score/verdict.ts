/** What is said of a joint, the worst first. */
export const SEAM_VERDICTS = ['plain', 'noticed', 'hardly', 'unnoticed'] as const;
export type SeamVerdict = (typeof SEAM_VERDICTS)[number];

/** The lowest score of each verdict but the first. */
const FROM: readonly number[] = [50, 75, 90];

/** How a joint of a score is seen; a score is told in whole numbers, and so it is judged. */
export function seamVerdict(score: number): SeamVerdict {
  return SEAM_VERDICTS[FROM.filter((from) => Math.round(score) >= from).length];
}

/** Whether a joint of a score is not noticed. */
export function isUnnoticed(score: number): boolean {
  return seamVerdict(score) === 'unnoticed';
}
