import type { Size } from '@muted-pond/core/pixels';
import { type DecodedFrame, type DecodeRequest, decodeFrames } from '../media/index.js';

/** What one worker keeps at most, bytes. */
const MOST_BYTES = 256 * 1024 ** 2;

/** Frames of one file in one size. */
interface KeptFile {
  readonly key: string;
  readonly frames: Map<number, Buffer>;
}

/** Files that were read last, the newest last. */
let files: KeptFile[] = [];

/**
 * Decodes frames for making a file, in their order, and keeps them for a while: another width, rate or span of the same footage
 * then starts from them. Nobody may write into what is given.
 */
export async function* decodeKept(
  request: Omit<DecodeRequest, 'format'>,
): AsyncGenerator<DecodedFrame, void, undefined> {
  const kept = keptFile(`${request.path} ${request.size.width} ${request.size.height}`);
  const missing = request.frames.filter((frame) => !kept.frames.has(frame));
  const decoded = missing.length > 0 ? decodeFrames({ ...request, frames: missing, format: 'rgba' }) : null;
  try {
    for (const frame of request.frames) {
      const data = kept.frames.get(frame);
      if (data) {
        yield { frame, data };
        continue;
      }
      const next = await decoded?.next();
      if (!next || next.done) return;
      keep(kept, next.value, request.size);
      yield next.value;
    }
  } finally {
    await decoded?.return(undefined);
  }
}

function keptFile(key: string): KeptFile {
  const there = files.find((file) => file.key === key) ?? { key, frames: new Map<number, Buffer>() };
  files = [...files.filter((file) => file !== there), there];
  return there;
}

/** Older files make room; a file that fills the room by itself keeps its first frames. */
function keep(file: KeptFile, { frame, data }: DecodedFrame, size: Size): void {
  const bytes = size.width * size.height * 4;
  while (files.length > 1 && keptBytes() + bytes > MOST_BYTES) files = files.slice(1);
  if (keptBytes() + bytes <= MOST_BYTES) file.frames.set(frame, data);
}

function keptBytes(): number {
  let sum = 0;
  for (const { frames } of files) for (const data of frames.values()) sum += data.length;
  return sum;
}
