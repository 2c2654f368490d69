export interface ThereAndBack {
  readonly kind: 'there-and-back';
}

/** The way back: what lies between the last frame and the first, reversed; neither end is shown twice. */
export function wayBack<Frame>(there: readonly Frame[]): Frame[] {
  return there.slice(1, -1).reverse();
}
