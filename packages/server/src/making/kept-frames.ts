import { createFrame, type PixelFrame } from '@muted-pond/core/pixels';
import { type DecodeRequest, decodeFrames } from '../media/index.js';
import { threadCache } from '../threads/index.js';

/** Share of the thread's cache that the frames of one request may take. */
const MOST_SHARE = 0.75;

/** A decoded frame of a file, and its number there. */
export interface KeptFrame {
  readonly frame: number;
  readonly picture: PixelFrame;
}

/**
 * Decodes frames for making a file, in their order, and keeps them for a while: another width, rate or span
 * of the same footage then starts from them. Nobody may write into what is given.
 */
export async function* decodeKept(
  request: Omit<DecodeRequest, 'format'> & { readonly hash: string },
): AsyncGenerator<KeptFrame, void, undefined> {
  const { width, height } = request.size;
  const keyOf = (frame: number) => `frame ${request.hash} ${width} ${height} ${frame}`;
  // Referenced from here on: the cache may evict them while frames are given.
  const there = new Map<number, PixelFrame>();
  for (const frame of request.frames) {
    const [picture] = threadCache.get(keyOf(frame))?.frames ?? [];
    if (picture) there.set(frame, picture);
  }
  const missing = request.frames.filter((frame) => !there.has(frame));
  // Only the first ones are kept where there are too many: the cache would evict them before they are used again.
  let room = Math.floor((threadCache.maxSize * MOST_SHARE) / (width * height * 4)) - there.size;
  const decoded = missing.length > 0 ? decodeFrames({ ...request, frames: missing, format: 'rgba' }) : null;
  try {
    for (const frame of request.frames) {
      const kept = there.get(frame);
      if (kept) {
        yield { frame, picture: kept };
        continue;
      }
      const next = await decoded?.next();
      if (!next || next.done) return;
      const picture = createFrame(width, height, next.value.data);
      if (room-- > 0) threadCache.set(keyOf(next.value.frame), { frames: [picture] });
      yield { frame: next.value.frame, picture };
    }
  } finally {
    await decoded?.return(undefined);
  }
}
