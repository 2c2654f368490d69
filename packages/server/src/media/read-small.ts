import { lookBytes, lookSize, writeLook } from '@muted-pond/core/loop';
import { SIGNATURE_BYTES, SIGNATURE_SIZE, writeSignature } from '@muted-pond/core/motion';
import { createFrame, createResizer } from '@muted-pond/core/pixels';
import type { DecodeRequest } from '../decoder/index.js';
import { decodeFrames } from './decode-frames.js';

type SmallRequest = Omit<DecodeRequest, 'size' | 'format'>;

/** A frame in small: what seams are found by, and what joints are judged on. */
export interface SmallFrame {
  readonly frame: number;
  readonly signature: Uint8Array;
  /** Made when it is asked for, which must be before the next frame is. */
  look(): Uint8Array;
}

/** Frames of one file in small, in their order, as they are decoded. */
export async function* readSmall(request: SmallRequest): AsyncGenerator<SmallFrame> {
  const size = lookSize(request.facts);
  const resizer = createResizer(size, SIGNATURE_SIZE);
  for await (const { frame, data } of decodeFrames({ ...request, size, format: 'rgba' })) {
    const signature = new Uint8Array(SIGNATURE_BYTES);
    writeSignature(resizer.resize(createFrame(size.width, size.height, data)).rgba, signature);
    const look = () => {
      const bytes = new Uint8Array(lookBytes(size));
      writeLook(data, size, bytes);
      return bytes;
    };
    yield { frame, signature, look };
  }
}

/** Looks of neighbouring frames, one after the other. @param to exclusive. */
export async function readLooks(
  request: Omit<SmallRequest, 'frames'>,
  from: number,
  to: number,
): Promise<Uint8Array> {
  const bytes = lookBytes(lookSize(request.facts));
  const looks = new Uint8Array((to - from) * bytes);
  const frames = Array.from({ length: to - from }, (_, i) => from + i);
  for await (const { frame, look } of readSmall({ ...request, frames })) {
    looks.set(look(), (frame - from) * bytes);
  }
  return looks;
}
