/** Exponential backoff with a bound. */
export interface RetryPolicy {
  readonly firstMs: number;
  readonly longestMs: number;
  /** After so many failures in a row there are no automatic retries. */
  readonly most: number;
}

/** @param failures in a row, from 1. @returns how long to wait, ms; null when enough was tried. */
export function retryAfter(failures: number, { firstMs, longestMs, most }: RetryPolicy): number | null {
  return failures >= most ? null : Math.min(longestMs, firstMs * 2 ** (failures - 1));
}
