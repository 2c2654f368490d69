/** The value below which the given share of the values lies; 0 of none. */
export function percentile(values: ArrayLike<number>, share: number): number {
  if (values.length === 0) return 0;
  const sorted = Float64Array.from(values).sort();
  return sorted[Math.floor(share * (sorted.length - 1))];
}
