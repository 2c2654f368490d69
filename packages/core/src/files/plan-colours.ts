import {
  type ChosenColours,
  type DitherName,
  mapColours,
  type PalettePlan,
  type PlannedReel,
  planPalettes,
  type ReelPalettes,
} from '../palette/index.js';
import { hardenEdges, type Matte, type PixelFrame, SINGLE_THREAD, type ThreadPool } from '../pixels/index.js';
import { CLEAR_BELOW, type FirstLook, settle, startLook } from '../settle/index.js';
import { type Reel, reelCentiseconds } from '../timing/index.js';

/** What is being done, for progress. `done` is 0–1 over the whole. */
export interface RenderProgress {
  readonly step: 'settle' | 'palette' | 'dither' | 'write';
  readonly done: number;
}

/** The delay, in centiseconds, for which settle and squeeze are scaled: 12 frames a second. */
const USUAL_DELAY_CS = 100 / 12;

/**
 * By what settle and squeeze are divided. They weigh an error by the frames it lasts; where frames stay for
 * seconds, as stills do, it is looked at for that much longer, and less of it is allowed.
 */
export function patienceOf(reel: Reel): number {
  return Math.sqrt(Math.max(1, reelCentiseconds(reel) / reel.length / USUAL_DELAY_CS));
}

export interface ColourPlanOptions {
  readonly reel: Reel;
  /** Palette entries, 2–256. */
  readonly colors: number;
  readonly palette: PalettePlan;
  readonly chosen: ChosenColours;
  readonly dither: DitherName;
  /** Per cent, 0–100. */
  readonly ditherStrength: number;
  /** As settle takes it: levels for one frame of this reel. */
  readonly price: number;
  /** Discount on the cost of a redrawn pixel beside other redrawn ones, see SettleOptions; 0 by default. */
  readonly merging?: number;
  /** What half-transparent edges are mixed with; their own colours by default. */
  readonly matte?: Matte;
  /**
   * Whether it is known that every pixel of every frame is opaque; false where some of a reel in parts may be
   * clear.
   */
  readonly isOpaque?: boolean;
  /** Frames from all over the reel, where it comes in parts and one palette is to serve them all; used up. */
  readonly sample?: readonly PixelFrame[];
  readonly onProgress?: (progress: RenderProgress) => void;
  /** The threads that share the work; this one alone by default. */
  readonly threads?: ThreadPool;
}

/** Frames on their way to palette indices, part after part. */
export interface ColourPlanning {
  /**
   * The frames of a part that comes next, to be shown one by one as they come, where that is known to be of use:
   * what can be measured of them is, while the others are waited for. @param count how many there will be.
   */
  look(count: number): FirstLook | null;
  /** @param look what was measured on the same frames, in their order. */
  plan(part: readonly PixelFrame[], look?: FirstLook | null): PlannedReel;
}

/**
 * From composed frames to palette indices, part after part: settle, palettes, dither, in this order. Each part
 * is settled by itself. The frames are used up: settling works in place.
 */
export function startPlanning(options: ColourPlanOptions): ColourPlanning {
  const { reel, matte = 'transparent', price, isOpaque } = options;
  const { onProgress = () => {}, threads = SINGLE_THREAD } = options;
  let frames = 0;
  // One entry is kept for "unchanged" and "clear" as soon as either can be.
  const paletteOptions = (isClear: boolean) => ({
    plan: options.palette,
    colours: Math.min(options.colors, reel.length > 1 || isClear ? 255 : 256),
    chosen: options.chosen,
    bytePrice: price * price,
  });
  const sampled = options.sample && settle(options.sample, 0, { isOpaque });
  const fixed =
    sampled && planPalettes(sampled, { ...paletteOptions(sampled.cleared !== null), plan: 'loop' });

  function plan(part: readonly PixelFrame[], look?: FirstLook | null): PlannedReel {
    const doneUntil = (share: number) => (frames + part.length * share) / reel.length;
    onProgress({ step: 'settle', done: doneUntil(0) });
    if (matte !== 'transparent') {
      for (const frame of part) hardenEdges(frame, matte, CLEAR_BELOW);
    }
    const looked = look?.result();
    const settled = settle(part, price, { threads, isOpaque, merging: options.merging, looked });
    onProgress({ step: 'palette', done: doneUntil(0.45) });
    const palettes: ReelPalettes = fixed
      ? { ...fixed, paletteOf: part.map(() => 0) }
      : planPalettes(settled, paletteOptions(settled.cleared !== null), threads);
    onProgress({ step: 'dither', done: doneUntil(0.55) });
    frames += part.length;
    return mapColours(settled, palettes, options.dither, options.ditherStrength, threads);
  }

  // What is not opaque is changed before it is settled.
  return { look: (count) => (isOpaque ? startLook(count) : null), plan };
}
