import { findCuts, scenesWithin, signatureOf } from '../motion/index.js';
import type { PixelFrame } from '../pixels/index.js';
import type { Span } from '../timing/index.js';
import { type Masking, startMasking } from './masking.js';

/** What must be measured on opaque frames before they can be settled. */
export interface Looked extends Masking {
  /** The scenes of the frames, in their order. */
  readonly scenes: readonly Span[];
}

/** Frames being looked at as they come: it is done by the time the last is there. */
export interface FirstLook {
  /** Adds the next frame, which may be overwritten afterwards. */
  add(frame: PixelFrame): void;
  /** @throws RangeError unless as many were added as had been told. */
  result(): Looked;
}

/** @param count how many frames will be added. */
export function startLook(count: number): FirstLook {
  const masking = startMasking(count);
  const signatures: Uint8Array[] = [];
  return {
    add(frame) {
      masking.add(frame);
      signatures.push(signatureOf(frame));
    },
    result() {
      const scenes = scenesWithin({ start: 0, end: count }, findCuts(signatures));
      return { ...masking.result(), scenes };
    },
  };
}

/** The same for frames that are all there. */
export function lookAt(frames: readonly PixelFrame[]): Looked {
  const look = startLook(frames.length);
  for (const frame of frames) look.add(frame);
  return look.result();
}
