import { open, readFile } from 'node:fs/promises';
import { MediaError } from '../errors/index.js';
import { clockOfDelays } from './animation.js';
import type { DecodedFrame, DecodeRequest } from './decode-request.js';
import { MOST_PIXELS } from './decoder-process.js';
import type { AnimationFacts } from './facts.js';
import { openPicture, sizeAsWanted, unreadable } from './picture.js';
import { encodeView } from './view-picture.js';

/** Pages decoded at a time; each time the file is gone through from its beginning. */
const CHUNK_BYTES = 256 * 1024 ** 2;

/** An animated WebP, also one that breaks off after its first frame. @throws MediaError */
export async function probeWebp(path: string, name: string): Promise<AnimationFacts> {
  const whole = await wholeFrames(path);
  const input = whole === null ? path : await mended(path, whole);
  const picture = await openPicture(input, { pages: -1, limitInputPixels: false });
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
    ...(whole === null
      ? {}
      : { breaksOff: { promisedSeconds: null, promisedFrames: null }, wholeBytes: whole }),
    ...clockOfDelays(Array.from({ length: pages }, (_, page) => delay[page] ?? 0)),
  };
}

export async function* decodeWebp(request: DecodeRequest<AnimationFacts>): AsyncGenerator<DecodedFrame> {
  const { path, name, facts, frames, size, format, signal } = request;
  const input = facts.wholeBytes === undefined ? path : await mended(path, facts.wholeBytes);
  const chunk = Math.max(1, Math.floor(CHUNK_BYTES / (facts.width * facts.height * 4)));
  for (let at = 0; at < frames.length; ) {
    const page = frames[at];
    const last = frames.findLast((frame) => frame < page + chunk) ?? page;
    const bytes = facts.width * facts.height * 4;
    const chunked = await openPicture(input, { page, pages: last - page + 1, limitInputPixels: false });
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

/** RIFF header: a name, the size of what follows, and what it is. */
const RIFF_HEADER = 12;
const CHUNK_HEADER = 8;

/**
 * How far the file reaches whole, by its chunks (WebP container specification, “RIFF file format”).
 * @returns null where all of it is there; else the bytes up to the last chunk that is.
 */
async function wholeFrames(path: string): Promise<number | null> {
  const file = await open(path);
  try {
    const { size } = await file.stat();
    const header = Buffer.alloc(CHUNK_HEADER);
    await file.read(header, 0, CHUNK_HEADER, 0);
    const promised = header.readUInt32LE(4) + CHUNK_HEADER;
    if (promised <= size) return null;
    let at = RIFF_HEADER;
    while (at + CHUNK_HEADER <= size) {
      await file.read(header, 0, CHUNK_HEADER, at);
      // Chunks begin at even places.
      const end = at + CHUNK_HEADER + header.readUInt32LE(4) + (header.readUInt32LE(4) & 1);
      if (end > size) break;
      at = end;
    }
    return at;
  } finally {
    await file.close();
  }
}

/** The file up to a chunk's end, with a header that says so. */
async function mended(path: string, bytes: number): Promise<Buffer> {
  const whole = (await readFile(path)).subarray(0, bytes);
  whole.writeUInt32LE(bytes - CHUNK_HEADER, 4);
  return whole;
}
