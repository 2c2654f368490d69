import { isMainThread } from 'node:worker_threads';
import type { DecodedFrame, DecodeRequest } from '../decoder/index.js';
import { decodeGif } from './animation-gif.js';
import { decodeWebp } from './animation-webp.js';
import { decodeVideo } from './decode-video.js';
import { decodePicture } from './picture.js';
import { decodeGifInThread } from './reading-thread.js';

/**
 * Decodes exactly the frames asked for: upright, de-interlaced, square pixels, sRGB, with alpha, at the
 * wanted size.
 * @throws UserError if the file gives fewer frames than were asked for.
 */
export function decodeFrames(request: DecodeRequest): AsyncGenerator<DecodedFrame> {
  const { facts } = request;
  switch (facts.reader) {
    case 'ffmpeg':
      return decodeVideo({ ...request, facts });
    case 'gif':
      return (isMainThread ? decodeGifInThread : decodeGif)({ ...request, facts });
    case 'webp':
      return decodeWebp({ ...request, facts });
    case 'picture':
      return decodePicture({ ...request, facts });
  }
}
