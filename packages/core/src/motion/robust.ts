/** Tukey's constant: 95 % efficiency on normal errors (Huber, Robust Statistics). */
export const TUKEY = 4.685;
/** Median of |x| of a normal distribution to its standard deviation. */
export const SIGMA_FROM_MEDIAN = 1.4826;
