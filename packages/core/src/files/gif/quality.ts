/** Plain choices that set settle and squeeze together, as measured. */
export const QUALITIES = {
  'near-lossless': { settle: 1.8, squeeze: 1.8 },
  balanced: { settle: 3.5, squeeze: 2.8 },
  small: { settle: 5.8, squeeze: 6.2 },
} as const satisfies Record<string, { readonly settle: number; readonly squeeze: number }>;

export type QualityName = keyof typeof QUALITIES;

export const QUALITY_NAMES = Object.keys(QUALITIES) as QualityName[];
