/** Seeded random numbers for tests (mulberry32), 0–1. The seed goes into the test's name. */
export function seeded(seed: number): () => number {
  let state = seed >>> 0;
  return () => {
    state = (state + 0x6d2b79f5) >>> 0;
    let mixed = Math.imul(state ^ (state >>> 15), state | 1);
    mixed ^= mixed + Math.imul(mixed ^ (mixed >>> 7), mixed | 61);
    return ((mixed ^ (mixed >>> 14)) >>> 0) / 4294967296;
  };
}

/** A whole number, low … high. */
export function wholeFrom(random: () => number, low: number, high: number): number {
  return low + Math.floor(random() * (high - low + 1));
}
