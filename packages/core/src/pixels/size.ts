export interface Size {
  readonly width: number;
  readonly height: number;
}

/** The size with the wanted width and the shape kept; never smaller than 1 px. Never enlarges. */
export function sizeForWidth(source: Size, width: number): Size {
  const taken = Math.max(1, Math.min(width, source.width));
  return { width: taken, height: Math.max(1, Math.round((source.height * taken) / source.width)) };
}

/** The size with the shape kept whose longer side is at most `longest` px. Never enlarges. */
export function sizeWithin(source: Size, longest: number): Size {
  const scale = Math.min(1, longest / Math.max(source.width, source.height));
  return {
    width: Math.max(1, Math.round(source.width * scale)),
    height: Math.max(1, Math.round(source.height * scale)),
  };
}
