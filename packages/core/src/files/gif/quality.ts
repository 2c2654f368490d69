/** Plain choices that set settle and squeeze together, as measured. */
export const QUALITIES = {
  'near-lossless': { settle: 2, squeeze: 2 },
  balanced: { settle: 4, squeeze: 3 },
  small: { settle: 6.5, squeeze: 8 },
} as const satisfies Record<string, { readonly settle: number; readonly squeeze: number }>;

export type QualityName = keyof typeof QUALITIES;

export const QUALITY_NAMES = Object.keys(QUALITIES) as QualityName[];
