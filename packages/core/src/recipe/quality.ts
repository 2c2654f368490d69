import type { WeighSettings } from './recipe.js';

/** Plain choices that set settle and squeeze together, as measured. */
export const QUALITIES = {
  'near-lossless': { settle: 2.2, squeeze: 0 },
  balanced: { settle: 3.5, squeeze: 4 },
  small: { settle: 6, squeeze: 9 },
} as const satisfies Record<string, Pick<WeighSettings, 'settle' | 'squeeze'>>;

export type QualityName = keyof typeof QUALITIES;

export const QUALITY_NAMES = Object.keys(QUALITIES) as QualityName[];
