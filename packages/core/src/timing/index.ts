export { LONGEST_DELAY_CS, SHORTEST_HONEST_DELAY_CS, shareCentiseconds } from './centiseconds.js';
export { makeReel, type Pick, type Reel, reelCentiseconds } from './reel.js';
export {
  boundaryTime,
  type FrameTimes,
  fitSpan,
  frameAt,
  nearestBoundary,
  nearestFrame,
  type Span,
  spanSeconds,
} from './span.js';
