export { decodeFrames } from './decode-frames.js';
export type { DecodedFrame, DecodeRequest, FrameFormat } from './decode-request.js';
export { hasDecoder } from './decoder-process.js';
export type { AnimationFacts, FrameClock, MediaFacts, PictureFacts, VideoFacts } from './facts.js';
export { frameTimes } from './frame-times.js';
export { assertWhole, openPicture, probePicture } from './picture.js';
export { probeFile } from './probe-file.js';
export { readSignatures } from './read-signatures.js';
export { encodeGreyPng, encodePng, viewType } from './view-picture.js';
