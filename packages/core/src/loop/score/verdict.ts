/** What is said of a joint, the worst first. */
export const SEAM_VERDICTS = ['plain', 'noticed', 'hardly', 'unnoticed'] as const;
export type SeamVerdict = (typeof SEAM_VERDICTS)[number];

/** From this score on a joint is not noticed. */
export const GOOD_SEAM = 90;
/** The lowest score of each verdict but the first. */
const FROM: readonly number[] = [50, 75, GOOD_SEAM];

/** How a joint of a score is seen; a score is told in whole numbers, and so it is judged. */
export function seamVerdict(score: number): SeamVerdict {
  return SEAM_VERDICTS[FROM.filter((from) => Math.round(score) >= from).length];
}
