import { clockOfDelays } from './animation.js';
import type { DecodedFrame, DecodeRequest } from './decode-request.js';
import { MOST_PIXELS } from './decoder-process.js';
import type { AnimationFacts } from './facts.js';
import { MediaError } from './media-error.js';
import { openPicture, sizeAsWanted, unreadable } from './picture.js';
import { encodeView } from './view-picture.js';

/** Pages decoded at a time; each time the file is gone through from its beginning. */
const CHUNK_BYTES = 256 * 1024 ** 2;

/** An animated WebP. @throws MediaError */
export async function probeWebp(path: string, name: string): Promise<AnimationFacts> {
  const picture = await openPicture(path, { pages: -1, limitInputPixels: false });
  const header = await picture.metadata().catch((error: unknown) => {
    throw unreadable(name, error);
  });
  const { width = 0, pages = 1, hasAlpha = false, delay = [], loop = 0 } = header;
  const height = header.pageHeight ?? header.height ?? 0;
  if (width * height > MOST_PIXELS) {
    throw new MediaError(
      'too_many_pixels',
      `“${name}” claims frames of ${width} × ${height} px; at most ${MOST_PIXELS / 1e6} million pixels can be used. Make a smaller version of it.`,
    );
  }
  return {
    reader: 'webp',
    kind: 'animation',
    container: 'webp',
    codec: 'webp',
    width,
    height,
    storedWidth: width,
    storedHeight: height,
    hasAlpha,
    plays: loop,
    ...clockOfDelays(Array.from({ length: pages }, (_, page) => delay[page] ?? 0)),
  };
}

export async function* decodeWebp(request: DecodeRequest<AnimationFacts>): AsyncGenerator<DecodedFrame> {
  const { path, name, facts, frames, size, format, signal } = request;
  const chunk = Math.max(1, Math.floor(CHUNK_BYTES / (facts.width * facts.height * 4)));
  for (let at = 0; at < frames.length; ) {
    const page = frames[at];
    const last = frames.findLast((frame) => frame < page + chunk) ?? page;
    const bytes = facts.width * facts.height * 4;
    const chunked = await openPicture(path, { page, pages: last - page + 1, limitInputPixels: false });
    const roll = await chunked
      .ensureAlpha()
      .raw()
      .toBuffer()
      .catch((error: unknown) => {
        throw unreadable(name, error);
      });
    for (; at < frames.length && frames[at] <= last; at++) {
      if (signal?.aborted) return;
      const from = (frames[at] - page) * bytes;
      const rgba = await sizeAsWanted(roll.subarray(from, from + bytes), facts, size);
      yield {
        frame: frames[at],
        data: format === 'rgba' ? rgba : await encodeView(rgba, size, facts.hasAlpha),
      };
    }
  }
}
