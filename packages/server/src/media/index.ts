export {
  type AnimationFacts,
  type DecodedFrame,
  type DecodeRequest,
  DecoderComplaint,
  decoderText,
  type FrameClock,
  type FrameFormat,
  hasDecoder,
  type MediaFacts,
  type PictureFacts,
  runDecoder,
  SAFE_INPUT,
  type VideoFacts,
} from '../decoder/index.js';
export { decodeFrames } from './decode-frames.js';
export { frameTimes } from './frame-times.js';
export { assertWhole, openPicture, probePicture } from './picture.js';
export { pictureLibrary } from './picture-library.js';
export { probeHere } from './probe-here.js';
export { readSignatures } from './read-signatures.js';
export { probeInThread } from './reading-thread.js';
export { type FileKind, isDrawing, sniffFile } from './sniff.js';
export { encodeGreyPng, encodePng, viewType } from './view-picture.js';
