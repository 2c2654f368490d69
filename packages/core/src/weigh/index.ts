export {
  FIT_KINDS,
  type FitKind,
  type FitModel,
  type FitResult,
  type FitSettings,
  type Fitted,
  fitSettingsAt,
  fitUnder,
  MOST_ENCODES,
} from './fit.js';
export { PALETTE_FIT, QUALITY_FIT } from './fit-models.js';
export { frameSimilarity, similarityOfPlanes } from './frame-similarity.js';
export {
  createLikenessMeter,
  type Likeness,
  type LikenessMeter,
  measureLikeness,
} from './likeness.js';
export {
  createSimilarityMeter,
  type SimilarityMeter,
  type SimilarityWork,
  startComparing,
} from './similarity.js';
export { structuralSimilarity } from './structural-similarity.js';
