import type { FileKindId } from '../files/index.js';

/** What a destination accepts. What is null may be anything. */
export interface Limit {
  readonly id: string;
  readonly name: string;
  /** The most pixels across. */
  readonly width: number;
  readonly height: number | null;
  /** The heaviest file. */
  readonly bytes: number;
  readonly seconds: number | null;
  /** Frames a second. */
  readonly frameRate: number | null;
  /** Whether a file may be transparent. */
  readonly alpha: boolean;
  /** Kinds of file that it takes. */
  readonly kinds: readonly FileKindId[] | null;
}

/** What of a finished file a limit looks at. */
export interface LimitedFile {
  readonly bytes: number;
  readonly width: number;
  readonly height: number;
  readonly frames: number;
  readonly durationMs: number;
  readonly hasAlpha?: boolean;
  readonly kind?: FileKindId;
}

/** One thing in which a file is over a limit. */
export interface Overrun {
  readonly what: 'bytes' | 'width' | 'height' | 'seconds' | 'frameRate' | 'alpha' | 'kind';
  readonly is: number;
  readonly most: number;
}

/** Rates may be over by this much, since delays are whole hundredths of a second. */
const RATE_SLACK = 1.05;

/** Everything in which a finished file is over a limit; empty where it fits. */
export function checkLimit(limit: Limit, file: LimitedFile): Overrun[] {
  const seconds = file.durationMs / 1000;
  const rate = seconds > 0 ? file.frames / seconds : 0;
  const all: readonly (readonly [Overrun['what'], number, number | null])[] = [
    ['bytes', file.bytes, limit.bytes],
    ['width', file.width, limit.width],
    ['height', file.height, limit.height],
    ['seconds', seconds, limit.seconds],
    ['frameRate', rate, limit.frameRate && limit.frameRate * RATE_SLACK],
    ['alpha', file.hasAlpha ? 1 : 0, limit.alpha ? null : 0],
    ['kind', takesKind(limit, file) ? 0 : 1, 0],
  ];
  return all.flatMap(([what, is, most]) => (most !== null && is > most ? [{ what, is, most }] : []));
}

function takesKind({ kinds }: Limit, { kind }: LimitedFile): boolean {
  return kinds === null || kind === undefined || kinds.includes(kind);
}
