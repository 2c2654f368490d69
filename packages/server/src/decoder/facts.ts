/** When the frames of a file are shown, as the file itself says. */
export interface FrameClock {
  /** Seconds of one tick. */
  readonly timeBase: readonly [numerator: number, denominator: number];
  /** Presentation time of every frame, ticks, ascending. */
  readonly ticks: readonly number[];
  /** Ticks from the first frame's appearance to the end of the last. */
  readonly durationTicks: number;
}

interface AnyFacts extends FrameClock {
  readonly container: string;
  readonly codec: string;
  /** Upright, with square pixels. */
  readonly width: number;
  readonly height: number;
  /** As stored. */
  readonly storedWidth: number;
  readonly storedHeight: number;
  /** Whether a pixel is transparent. */
  readonly hasAlpha: boolean;
  /** Where the file ends before all is there that it promises; missing where it is whole. */
  readonly breaksOff?: BreaksOff;
}

/** What a file that breaks off promised, as far as it says. */
export interface BreaksOff {
  readonly promisedSeconds: number | null;
  readonly promisedFrames: number | null;
}

/** Quarter turns that make it upright, in degrees clockwise. */
export type UprightTurn = 0 | 90 | 180 | 270;

/** What is known of a file that ffmpeg decodes, from its headers and every packet's time stamp. */
export interface VideoFacts extends AnyFacts {
  readonly reader: 'ffmpeg';
  readonly kind: 'video' | 'animation';
  readonly turn: UprightTurn;
  /** Width of a stored pixel as a multiple of its height. */
  readonly pixelAspect: number;
  readonly pixelFormat: string;
  readonly interlaced: boolean;
  readonly matrix: 'bt601' | 'bt709' | 'bt2020';
  readonly range: 'limited' | 'full';
  /** Whether its colours reach beyond those of sRGB. */
  readonly wideGamut: boolean;
  readonly transfer: 'sdr' | 'hlg' | 'pq';
  readonly hasSound: boolean;
  /** How often an animation is shown; 0 without end. */
  readonly plays: number;
  /**
   * `time`: a frame is found by its time stamp, from the key frame before it. `count`: the file has no time
   * stamps to lean on, and frames are counted from its beginning.
   */
  readonly addressing: 'time' | 'count';
  /** Indices of the frames that can be decoded by themselves. */
  readonly keyframes: readonly number[];
}

/** What is known of an animated GIF or WebP. One tick is a millisecond. */
export interface AnimationFacts extends AnyFacts {
  readonly reader: 'gif' | 'webp';
  readonly kind: 'animation';
  readonly plays: number;
  /** Frames whose delay is too short for viewers, taken as long as viewers show them. */
  readonly mendedDelays: number;
}

/** What is known of one picture. It is one frame that lasts a second. */
export interface PictureFacts extends AnyFacts {
  readonly reader: 'picture';
  readonly kind: 'picture';
  /** Turned or mirrored upright as its EXIF orientation says. */
  readonly turned: boolean;
  /** Bits a channel. */
  readonly bits: number;
  /** Whether it carries a colour profile of its own. */
  readonly hasProfile: boolean;
}

export type MediaFacts = VideoFacts | AnimationFacts | PictureFacts;
