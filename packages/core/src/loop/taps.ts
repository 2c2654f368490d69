/**
 * Frames compared on both sides of a joint, and their weights (binomial): a pendulum on its way back is told
 * from one on its way there. The joint lies between the second and the third.
 */
export const TAPS = [1, 3, 3, 1] as const;
/** The first of them, from the loop's first frame. */
export const FIRST_TAP = -2;
