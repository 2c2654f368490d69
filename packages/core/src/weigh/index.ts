export {
  FIT_KINDS,
  type FitKind,
  type FitResult,
  type FitSettings,
  type Fitted,
  fitSettingsAt,
  fitUnder,
  MOST_ENCODES,
} from './fit.js';
export {
  createLikenessMeter,
  createSimilarityMeter,
  type Likeness,
  type LikenessMeter,
  measureLikeness,
} from './likeness.js';
export { structuralSimilarity } from './structural-similarity.js';
