import type { WeighSettings } from './recipe.js';

/** Plain choices that set settle and squeeze together, as measured. */
export const QUALITIES = {
  'near-lossless': { settle: 3, squeeze: 3 },
  balanced: { settle: 6, squeeze: 6 },
  small: { settle: 12, squeeze: 14 },
} as const satisfies Record<string, Pick<WeighSettings, 'settle' | 'squeeze'>>;

export type QualityName = keyof typeof QUALITIES;

export const QUALITY_NAMES = Object.keys(QUALITIES) as QualityName[];
