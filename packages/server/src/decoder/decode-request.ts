import type { Size } from '@muted-pond/core/pixels';
import type { MediaFacts } from './facts.js';

/** RGBA8 as PixelFrame holds it; or encoded for the eye, see `encodeView`. */
export type FrameFormat = 'rgba' | 'view';

export interface DecodeRequest<Facts extends MediaFacts = MediaFacts> {
  readonly path: string;
  /** What the user calls the file, for messages. */
  readonly name: string;
  readonly facts: Facts;
  /** Source frames, ascending, none twice. */
  readonly frames: readonly number[];
  readonly size: Size;
  readonly format: FrameFormat;
  readonly timeLimitMs?: number;
  /** Runs at a lower priority (nice): nobody waits for it. */
  readonly background?: boolean;
  /** Ends the decoder at once; the generator then returns. */
  readonly signal?: AbortSignal;
}

export interface DecodedFrame {
  readonly frame: number;
  readonly data: Buffer;
}
