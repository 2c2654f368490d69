export { createLikenessMeter, type Likeness, type LikenessMeter, measureLikeness } from './likeness.js';
export { structuralSimilarity } from './structural-similarity.js';
