import { UserError } from '@muted-pond/core/errors';
import type { AnimationFacts, DecodedFrame, DecodeRequest } from '../decoder/index.js';
import { MOST_PIXELS, TimeLimit } from '../ffmpeg/index.js';
import { clockOfDelays, MOST_UNPACKED, tooMuchToUnpack } from './animation.js';
import { openPicture, sizeAsWanted, unreadable } from './picture.js';
import { encodeView } from './view-picture.js';
import { cutWebp, scanWebp } from './webp-chunks.js';

/** Pages decoded at a time. */
const CHUNK_BYTES = 96 * 1024 ** 2;
const TIME_LIMIT_MS = 120_000;

/** An animated WebP, also one that breaks off after its first frame. @throws UserError */
export async function probeWebp(path: string, name: string): Promise<AnimationFacts> {
  const chunks = await scanWebp(path);
  if (chunks.frames.length === 0) {
    throw new UserError(
      'no_picture',
      `“${name}” breaks off before its first picture is complete. Copy or export it again.`,
    );
  }
  // One that breaks off is read as far as it is whole.
  const input = chunks.breaksOff ? (await cutWebp(path, chunks, 0, chunks.frames.length - 1)).bytes : path;
  const picture = await openPicture(input, { pages: -1, limitInputPixels: false });
  const header = await picture.metadata().catch((error: unknown) => {
    throw unreadable(name, error);
  });
  const { width = 0, pages = 1, hasAlpha = false, delay = [], loop = 0 } = header;
  const height = header.pageHeight ?? header.height ?? 0;
  if (width * height > MOST_PIXELS) {
    throw new UserError(
      'too_many_pixels',
      `“${name}” claims frames of ${width} × ${height} px; at most ${MOST_PIXELS / 1e6} million pixels can be used. Make a smaller version of it.`,
    );
  }
  if (width * height * pages > MOST_UNPACKED) throw tooMuchToUnpack(name, pages, { width, height });
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
    ...(chunks.breaksOff ? { breaksOff: { promisedSeconds: null, promisedFrames: null } } : {}),
    ...clockOfDelays(Array.from({ length: pages }, (_, page) => delay[page] ?? 0)),
  };
}

/** Each run of frames starts from the nearest one that covers everything, not from the beginning. */
export async function* decodeWebp(request: DecodeRequest<AnimationFacts>): AsyncGenerator<DecodedFrame> {
  const { path, name, facts, frames, size, format, signal } = request;
  if (frames.length === 0) return;
  const chunks = await scanWebp(path);
  const bytes = facts.width * facts.height * 4;
  const atOnce = Math.max(1, Math.floor(CHUNK_BYTES / bytes));
  const limit = new TimeLimit(request.timeLimitMs ?? TIME_LIMIT_MS);
  for (let at = 0; at < frames.length; ) {
    limit.begin();
    const first = frames[at];
    const last = frames.findLast((frame) => frame < first + atOnce) ?? first;
    const { bytes: part, skipped } = await cutWebp(path, chunks, first, last);
    const opened = await openPicture(part, {
      page: skipped,
      pages: last - first + 1,
      limitInputPixels: false,
    });
    const roll = await opened
      .ensureAlpha()
      .raw()
      .toBuffer()
      .catch((error: unknown) => {
        throw unreadable(name, error);
      });
    limit.pause();
    if (limit.isOver) throw limit.error();
    for (; at < frames.length && frames[at] <= last; at++) {
      if (signal?.aborted) return;
      const from = (frames[at] - first) * bytes;
      const rgba = await sizeAsWanted(roll.subarray(from, from + bytes), facts, size);
      yield {
        frame: frames[at],
        data: format === 'rgba' ? rgba : await encodeView(rgba, size, facts.hasAlpha),
      };
    }
  }
}
