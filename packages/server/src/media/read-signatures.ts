import { SIGNATURE_BYTES, SIGNATURE_SIZE, writeSignature } from '@muted-pond/core/motion';
import type { DecodeRequest } from '../decoder/index.js';
import { decodeFrames } from './decode-frames.js';

/** Frames of one file in small, in their order, as they are decoded. */
export async function* readSignatures(
  request: Omit<DecodeRequest, 'size' | 'format'>,
): AsyncGenerator<{ readonly frame: number; readonly signature: Uint8Array }> {
  for await (const { frame, data } of decodeFrames({ ...request, size: SIGNATURE_SIZE, format: 'rgba' })) {
    const signature = new Uint8Array(SIGNATURE_BYTES);
    writeSignature(data, signature);
    yield { frame, signature };
  }
}
