export type {
  AnimationFacts,
  DecodedFrame,
  DecodeRequest,
  FrameClock,
  FrameFormat,
  MediaFacts,
  PictureFacts,
  VideoFacts,
} from '../decoder/index.js';
export { decodeFrames } from './decode-frames.js';
export { frameTimes } from './frame-times.js';
export { assertWhole, openPicture, probePicture } from './picture.js';
export { pictureLibrary } from './picture-library.js';
export { probeHere } from './probe-here.js';
export { factsOfMovie, type MovieDecoder, type MovieFacts, readMovie } from './read-movie.js';
export { readLooks, readSmall, type SmallFrame } from './read-small.js';
export { probeInThread } from './reading-thread.js';
export { type FileKind, isDrawing, sniffFile } from './sniff.js';
export { encodeGreyPng, encodePng, viewType } from './view-picture.js';
