export { colourFilters } from './colour-filters.js';
export type { DecodedFrame, DecodeRequest, FrameFormat } from './decode-request.js';
export type {
  AnimationFacts,
  BreaksOff,
  FrameClock,
  MediaFacts,
  PictureFacts,
  UprightTurn,
  VideoFacts,
} from './facts.js';
export { type HeaderText, readHeaderText } from './header-text.js';
export { rawFormatOf, rawOutput, rawPictures } from './raw-pictures.js';
export { readAhead, stopReadingAhead, takeFrames, takeHeaders } from './read-ahead.js';
