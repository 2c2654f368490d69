import type { SavingFamily } from '../derived/index.js';
import type { VeilKey } from '../dress/index.js';
import type { UserErrorCode } from '../errors/index.js';
import type { FileKindId } from '../files/index.js';
import type { Woven } from '../loop/index.js';
import type { Recipe } from '../recipe/index.js';
import type { SteadyFigures, StepFigures, WovenPart } from '../render/index.js';
import type { Span } from '../timing/index.js';
import type { LengthEnergy } from '../weave/index.js';
import type { FitKind } from '../weigh/index.js';
import type { SendingView } from './host.js';

/** What travels between server and interface. Times of day are ISO 8601. */

/** What everyone is told of something that takes long: being worked on, or what came of it. */
export interface JobView {
  readonly piece: string;
  /** Of its result: the same key is the same result. */
  readonly key: string;
  readonly state: 'working' | 'done' | 'failed';
  /** 0–1 */
  readonly done: number;
  /** Why there is no result, and what would help. */
  readonly problem: string | null;
}

/** Longer side of working frames at most, px: what the interface works on until a file is made. */
export const WORKING_LONG_SIDE = 960;

/** How many pictures of the strip's first look are there. */
export interface StripProgress {
  readonly count: number;
  readonly made: number;
}

export interface FootageView {
  /** SHA-256 of the file's bytes. */
  readonly id: string;
  readonly name: string;
  readonly kind: 'video' | 'animation' | 'picture';
  readonly bytes: number;
  readonly container: string;
  readonly codec: string;
  /** Upright, square pixels. */
  readonly width: number;
  readonly height: number;
  readonly hasAlpha: boolean;
  readonly frameCount: number;
  readonly seconds: number;
  /** Mean frames a second. */
  readonly frameRate: number;
  readonly variableRate: boolean;
  /** How often an animation says that it plays, 0 without end; null for others. */
  readonly plays: number | null;
  /**
   * Where the file ends before all is there that it promises, in words: “it breaks off after 4.5 s of 29.6
   * s”.
   */
  readonly breaksOff: string | null;
  /** What was done to show it right, in words. */
  readonly notes: readonly string[];
  /**
   * What is wrong with the file on the disk; null where it is as it was brought in. Bringing it in again
   * mends it.
   */
  readonly problem: 'missing' | 'damaged' | null;
  readonly strip: StripProgress;
  /** Strip and working frames are made as far as they are made ahead. */
  readonly ready: boolean;
  readonly addedAt: string;
}

/** What can be kept for recipes beside footage. */
export const LAYER_KINDS = ['picture', 'emblem', 'table', 'font'] as const;
export type LayerKind = (typeof LAYER_KINDS)[number];

/** A kept file that recipes use beside footage. */
export interface LayerView {
  /** SHA-256 of the kept bytes; of another kind of file, of what it was turned into. */
  readonly hash: string;
  /** Of a picture, px; else 0. */
  readonly width: number;
  readonly height: number;
  /** What was left out or changed, in sentences. */
  readonly notes: readonly string[];
}

/** Where footage moves: a part's number for every place, row-major, as base64. */
export interface MotionView {
  readonly width: number;
  readonly height: number;
  readonly labels: string;
  /** The largest first; its number is its place and one. */
  readonly parts: readonly { readonly area: number; readonly spread: number }[];
}

/** When each source frame appears, seconds from the first. */
export interface FootageTimes {
  readonly starts: readonly number[];
  readonly duration: number;
}

/** What holding still does to the frames of a reel. */
export type HoldingFigures = StepFigures;

/** The holding of a piece as it is asked for now: being measured, or measured. */
export interface HoldingView extends JobView {
  readonly figures: HoldingFigures | null;
}

/** The weaves of a piece as they are asked for now: being made, or made. */
export interface WeavingView extends JobView {
  /** By what they are called in the reels. */
  readonly parts: Readonly<Record<string, WovenPart>> | null;
}

/** How well a piece can be woven. */
export interface WeaveAdvice {
  /** Where frames may come from. */
  readonly span: Span;
  readonly join: Woven;
  /** Squared usual steps, a living cell: the less, the better. */
  readonly energy: number;
  /** The part of the picture that moves, 0–1. */
  readonly moving: number;
  /** 0–100, measured on what was woven. */
  readonly score: number;
  /** Seconds over which the joint is spread. */
  readonly spread: number;
  /** Energies of all common lengths that were looked at. */
  readonly lengths: readonly LengthEnergy[];
}

/** Whether a piece can be woven: being looked at, or known. */
export interface WeaveAdviceView extends JobView {
  /** Null while it is not known, and where the footage is too short. */
  readonly advice: WeaveAdvice | null;
}

/** What a finished trial measured on the file itself. */
export interface TrialFigures {
  /** Missing in trials of earlier versions, which are GIFs. */
  readonly kind?: FileKindId;
  readonly bytes: number;
  readonly width: number;
  readonly height: number;
  readonly frames: number;
  readonly durationMs: number;
  /** Some of it can be seen through; missing in trials of earlier versions. */
  readonly hasAlpha?: boolean;
  /** In the largest palette; null where a file has none. */
  readonly colors: number | null;
  /**
   * SSIM against the full-colour reel at the file's own size, 0–1. Not to be compared across sizes: see
   * SeenLikeness.
   */
  readonly likeness: number;
  /** Null where nothing was steadied. */
  readonly steady: SteadyFigures | null;
  /** Bytes of each frame of the reel. */
  readonly frameBytes: readonly number[];
  /** sRGB hexadecimal, #rrggbb. */
  readonly palette: readonly string[];
  /** How many palettes those are in; one in older files. */
  readonly palettes?: number;
  /** Part of all pixels that each palette colour is, 0–1; missing in trials of earlier versions. */
  readonly paletteShares?: readonly number[];
  readonly ms: {
    readonly decode: number;
    readonly compose: number;
    readonly encode: number;
    readonly total: number;
  };
}

/**
 * How close a file is to the full-colour reel when both are seen at one size, so that files of any size can
 * be compared.
 */
export interface SeenLikeness {
  /** Width at which it was measured, px: that of the widest trial of the piece then. */
  readonly width: number;
  /** SSIM, 0–1; null where it could not be measured. */
  readonly value: number | null;
  /** Why it could not be measured, for a person; missing where it was. */
  readonly problem?: string;
}

export type TrialState = 'waiting' | 'working' | 'done' | 'failed' | 'interrupted';

export interface TrialView {
  readonly id: string;
  readonly piece: string;
  /** A, B, C …; then AA. */
  readonly letter: string;
  /** Given by hand. */
  readonly name: string | null;
  /** Never thrown away by itself. */
  readonly pinned: boolean;
  readonly state: TrialState;
  /** Of the file that it is: the same as that of every recipe whose file has the same bytes. */
  readonly key: string;
  readonly recipe: Recipe;
  readonly figures: TrialFigures | null;
  /** Null until it is measured at the width of the piece's widest trial. */
  readonly seen: SeenLikeness | null;
  /** Why it failed, for a person. */
  readonly problem: string | null;
  readonly progress: TrialProgress | null;
  readonly createdAt: string;
}

/** How far a trial in the making is. */
export interface TrialProgress {
  /** 0–1. */
  readonly done: number;
  readonly doing: string;
  /** The finished file, which can be had already while it is compared with its source. */
  readonly file?: Pick<TrialFigures, 'kind' | 'width' | 'height' | 'bytes'>;
}

export interface PieceView {
  readonly id: string;
  readonly name: string;
  /** What is to be seen, for who does not see it; empty until it is written. */
  readonly about: string;
  readonly recipe: Recipe;
  /** Goes up with every save; a save names the one it came from. */
  readonly revision: number;
  readonly createdAt: string;
  readonly updatedAt: string;
}

/** A piece whose recipe cannot be read by this version. The recipe itself can be had as a file. */
export interface UnreadablePiece {
  readonly id: string;
  readonly name: string;
  /** What is wrong with it, for a person. */
  readonly unreadable: string;
  readonly updatedAt: string;
}

/** What stands on the shelf. */
export type ShelfPiece = PieceView | UnreadablePiece;

/** Files of a piece under a limit: being looked for, or found. */
export interface FitView extends JobView {
  /** What is being done. */
  readonly doing: string;
  /** As far as they were found, each a finished trial. */
  readonly offers: readonly FitOffer[];
}

/** A file under the limit that gives up one thing rather than another. */
export interface FitOffer {
  readonly kind: FitKind;
  readonly trial: string;
  /** Full encodes it took. */
  readonly encodes: number;
}

/** The same loop in one kind of file. */
export interface KindMade {
  readonly kind: FileKindId;
  /** A finished trial; null where it could not be made. */
  readonly trial: string | null;
  /** Why there is none, and what would help. */
  readonly problem: string | null;
}

/** The same loop in all kinds of file: being made, or made. */
export interface KindsView extends JobView {
  /** What is being done. */
  readonly doing: string;
  /** As far as they were made. */
  readonly made: readonly KindMade[];
}

/** What one change alone would make of a file's weight, measured. */
export interface Saving {
  readonly kind:
    | 'settle'
    | 'squeeze'
    | 'narrower'
    | 'fewer-frames'
    | 'fewer-colours'
    | 'lower-quality'
    | 'no-dither'
    | 'shorter'
    | 'steady'
    | 'look';
  readonly recipe: Recipe;
  readonly bytes: number;
}

/** What would help a piece's file most: being tried out, or known. */
export interface SavingsView extends JobView {
  readonly of: SavingFamily;
  readonly doing: string;
  /** Of the file as it is. */
  readonly bytes: number;
  /** The most first. */
  readonly savings: readonly Saving[];
}

/** A veil that follows what it hides: being worked on, or what came of it. */
export interface FollowView extends JobView {
  readonly veil: string;
  /** Where it was begun, and which way it goes. */
  readonly frame: number;
  readonly way: FollowWay;
  /** Where it was found, rising by frame; the frame it began at is among them. */
  readonly keys: readonly VeilKey[];
  /** How sure it was, 0–1, for each frame that was looked at, the first one first. */
  readonly confidence: readonly number[];
  /** The frame from which it was not found any more; null where it went as far as it should. */
  readonly lostAt: number | null;
  /** The next frame on its way where a hand has set a place: it goes no farther. Null where none was. */
  readonly handSetAt: number | null;
}

export const FOLLOW_WAYS = ['forwards', 'backwards'] as const;
export type FollowWay = (typeof FOLLOW_WAYS)[number];

/** Server-sent events. */
export type PondEvent =
  | { readonly type: 'footage'; readonly footage: string; readonly strip: StripProgress }
  | {
      readonly type: 'activity';
      readonly footage: string;
      /** For how many frames it is known what happens. */
      readonly frames: number;
    }
  | { readonly type: 'holding'; readonly holding: HoldingView }
  | { readonly type: 'weaving'; readonly weaving: WeavingView }
  | { readonly type: 'weave-advice'; readonly advice: WeaveAdviceView }
  | { readonly type: 'fit'; readonly fit: FitView }
  | { readonly type: 'follow'; readonly follow: FollowView }
  | { readonly type: 'kinds'; readonly kinds: KindsView }
  | { readonly type: 'sending'; readonly sending: SendingView }
  /** Something changed at the practice host. */
  | { readonly type: 'host' }
  | { readonly type: 'savings'; readonly savings: SavingsView }
  | { readonly type: 'trial'; readonly trial: TrialView }
  | { readonly type: 'trial-gone'; readonly piece: string; readonly id: string };

/** Whether all is there that is needed. */
export interface HealthView {
  /** ffmpeg can be started. */
  readonly decoder: boolean;
  /** Kinds of file that cannot be made on this machine, and why. */
  readonly missingKinds: Partial<Readonly<Record<FileKindId, string>>>;
  /** Files that are kept though the library is empty, as after a lost database. */
  readonly unknownFiles: number;
}

/** Problem details (RFC 9457). */
export interface ProblemView {
  readonly status: number;
  readonly code: UserErrorCode;
  /** A sentence a person can act on. */
  readonly title: string;
}

/** What a backup holds. */
export interface BackupHolds {
  readonly pieces: number;
  readonly footage: number;
  readonly trials: number;
  /** Of the practice host. */
  readonly pages: number;
  /** All files, those of the databases too. */
  readonly files: number;
  readonly bytes: number;
}

/** A backup that was written. */
export interface BackupView {
  readonly folder: string;
  readonly holds: BackupHolds;
}
