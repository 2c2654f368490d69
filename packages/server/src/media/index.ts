export { type DecodedFrame, type DecodeRequest, decodeFrames, type FrameFormat } from './decode-frames.js';
export { MOST_PIXELS } from './decoder-process.js';
export { frameTimes } from './frame-times.js';
export { MediaError, type MediaErrorCode } from './media-error.js';
export { probeVideo, type VideoFacts } from './probe.js';
