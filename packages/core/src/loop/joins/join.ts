import type Joi from 'joi';
import type { FrameTimes, Reel, ReelFrame, Span, TakeMoment } from '../../timing/index.js';
import type { Woven } from './woven-settings.js';

/** What a join needs to know of the reel it closes. */
export interface JoinContext {
  readonly times: FrameTimes;
  readonly span: Span;
  /** Whether the reel runs from the span's end to its start. */
  readonly reverse: boolean;
  /** Whether pictures are made between frames of the take. */
  readonly isSmooth: boolean;
  /** What a weave of this reel is called. */
  readonly weave: string;
}

/** A stretch that goes round by itself in a region, whatever the rest of the reel shows. */
export interface OwnStretch {
  /** Its length, seconds; and when its last frame begins. */
  readonly seconds: number;
  readonly lastStart: number;
  /** What the stretch shows so many seconds after its start. */
  readonly within: (seconds: number) => TakeMoment;
  /** What the take shows there, which may lie before the stretch. */
  readonly anywhere: (seconds: number) => TakeMoment;
  /** Frames of the reel in one round of it. */
  readonly length: number;
  /** The most frames of the reel that can be mixed. */
  readonly mostMelted: number;
}

/** The setting of a join that counts frames of the reel. */
export interface JoinLength {
  readonly min: number;
  readonly max: number;
  /** To begin with. */
  readonly usual: number;
}

/** What is told of a join once it is made. */
export interface JoinNote {
  /** Frames that are mixed, and the most that could be. */
  readonly used: number;
  readonly longest: number;
  /** Frames that the way back adds. */
  readonly added: number;
  /** Where mixed frames come from: “before the start”. */
  readonly where: string;
}

/**
 * A way to make the last frame of a reel meet the first. A new one is a file beside these and a line in the
 * list.
 */
export interface Join<Settings extends { readonly kind: string }> {
  readonly kind: Settings['kind'];
  /** On the command line; its kind where not given. */
  readonly name?: string;
  /** For people. */
  readonly label: string;
  readonly schema: Joi.ObjectSchema<Settings>;
  /** Null where nothing is to be set. */
  readonly length: JoinLength | null;
  /** Its settings over so many frames, where it has a length. */
  readonly over: (frames: number) => Settings;
  /** How many those are; 0 where it has none. */
  readonly framesOf: (settings: Settings) => number;
  /** Whether the movement turns at both ends rather than leaping from one to the other. */
  readonly turns: boolean;
  /** Whether things are led along a flow: how many frames that takes can be found. */
  readonly isLed: boolean;
  /** Which frame of the take the last one of the span is on its way to, where pictures are made in between. */
  readonly follows: 'first' | 'next' | 'none';
  /** The most frames that its length can be here; 0 where the join cannot be made. */
  readonly longest: (reel: Reel, context: JoinContext) => number;
  readonly apply: (reel: Reel, settings: Settings, context: JoinContext) => Reel;
  /** The part of the span that one round takes its time from; all of it where not given. */
  readonly round?: (settings: Settings, span: Span) => Span;
  /** Frames that the span lacks for it; none where not given. */
  readonly missing?: (settings: Settings, span: Span) => number;
  /** What is to be woven, where parts of the picture go round in their own time. */
  readonly woven?: (settings: Settings) => Woven;
  /**
   * Over other footage.
   * @param at the boundary between its frames that lies at the same second.
   * @param arePlacesAlike whether a place of the picture shows there what it showed.
   */
  readonly carry?: (
    settings: Settings,
    span: Span,
    at: (boundary: number) => number,
    arePlacesAlike: boolean,
  ) => Settings;
  /** The frames shown after the last one of the span, until the loop starts again. */
  readonly back: <Frame>(there: readonly Frame[]) => readonly Frame[];
  /** What a region shows that goes round by itself. @param at share of its round, 0–1. */
  readonly ownReelFrame: (settings: Settings, at: number, stretch: OwnStretch) => Omit<ReelFrame, 'delayCs'>;
  /** Seconds of the take that one such round goes through. */
  readonly ownSeconds: (stretch: Readonly<{ seconds: number; lastStart: number }>) => number;
  /**
   * What is tried when a join is proposed, the least first; and why the first good one is.
   * @param longest frames that can be mixed.
   * @param found the length that suits best, where it was looked for.
   */
  readonly candidates: (longest: number, found: number | null) => readonly Settings[];
  readonly reason: 'meets' | 'at-rest' | 'melts' | 'flows' | 'woven';
  /** “a crossfade over 8 frames”. */
  readonly words: (settings: Settings) => string;
  /** What it did, after the length of the round: “: none added.” */
  readonly note: (note: JoinNote) => string;
  /** Where the frames that it needs may lie, where that is not only before the start: “before the start or after the end”. */
  readonly room?: string;
  /** Said where it cannot be made; null where it always can. */
  readonly lacking: (where: string) => string | null;
}
