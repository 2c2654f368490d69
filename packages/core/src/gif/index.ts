export { type DrawWork, startDrawing } from './draw-chunk.js';
export { type EncodedGif, encodeGif, type GifOptions, type GifWriting, startGif } from './encode-reel.js';
export { type GifPixels, unpackImage } from './image-data.js';
export { playGif } from './play.js';
export { composeGif, GifPlayer, maySeeThrough } from './player.js';
export { GifError, type GifFile, type GifImage, type GifReadLimits, readGif } from './reader.js';
export type { Disposal, Rect } from './writer.js';
