export { LONGEST_DELAY_CS, SHORTEST_HONEST_DELAY_CS, shareCentiseconds } from './centiseconds.js';
export {
  CENTISECONDS,
  type DelayClock,
  fastestRate,
  IMAGE_MILLISECONDS,
  MOVIE_MILLISECONDS,
} from './delay-clock.js';
export {
  type Evenness,
  evennessOf,
  evenRateNear,
  evenRates,
  isVariable,
  meanRate,
  worstDeviation,
} from './evenness.js';
export {
  type FrameRate,
  makeReel,
  type Pace,
  type Reel,
  type ReelFrame,
  reelCentiseconds,
  type Smooth,
  takenFrame,
} from './reel.js';
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
export {
  type Blend,
  framesNeeded,
  type LedPlace,
  momentAt,
  momentSeconds,
  partsOf,
  type TakeMoment,
} from './take-moment.js';
