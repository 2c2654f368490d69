import { findCuts, scenesWithin, signatureOf } from '../motion/index.js';
import type { PixelFrame } from '../pixels/index.js';
import type { Span } from '../timing/index.js';
import { type Masking, startMasking } from './masking.js';

/** What is to be known of opaque frames before they can be settled. */
export interface Looked extends Masking {
  /** The frames' scenes, one behind the other. */
  readonly scenes: readonly Span[];
}

/** Frames being looked at as they come: it is done by the time the last is there. */
export interface FirstLook {
  /** The next frame. It may be written into afterwards. */
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

/** A look at frames that are all there. */
export function lookAt(frames: readonly PixelFrame[]): Looked {
  const look = startLook(frames.length);
  for (const frame of frames) look.add(frame);
  return look.result();
}
