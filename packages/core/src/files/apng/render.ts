import { type ApngFrame, apngFrameBytes, type PngColours, writeApng } from '../../containers/index.js';
import { NO_CHOICE } from '../../palette/index.js';
import {
  type Matte,
  type PixelFrame,
  pixelWords,
  SINGLE_THREAD,
  type ThreadPool,
} from '../../pixels/index.js';
import { settle, showSettled } from '../../settle/index.js';
import type { Reel } from '../../timing/index.js';
import { patienceOf, type RenderProgress, startPlanning } from '../plan-colours.js';
import { type DrawnFrame, drawIndexed, drawTrueColour, unusedColour } from './draw.js';
import type { ApngSettings } from './kind.js';
import { createRowPacker, type Deflate, type RowPacker } from './pack.js';

export interface ApngOptions {
  readonly reel: Reel;
  readonly settings: ApngSettings;
  /** What half-transparent edges of a file with a palette are mixed with. */
  readonly matte: Matte;
  readonly plays: number;
  /** Whether it is known that every pixel of every frame is opaque. */
  readonly isOpaque: boolean;
  /** Whether more than one part comes. */
  readonly isInParts: boolean;
  /** Frames from all over the reel, where it comes in parts and has a palette; used up. */
  readonly sample?: readonly PixelFrame[];
  /** The host's own; see Deflate. */
  readonly deflate: Deflate;
  readonly onProgress: (progress: RenderProgress) => void;
  readonly threads?: ThreadPool;
}

export interface RenderedApng {
  readonly bytes: Uint8Array;
  /** Bytes of each frame of the reel; 0 where it was merged into the one before. */
  readonly frameBytes: readonly number[];
  /** Three bytes an entry; null where all colours are kept. */
  readonly palette: Uint8Array | null;
}

/** A file being made, part after part. */
export interface ApngRendering {
  /** Takes the next composed frames. They are used up. */
  add(frames: readonly PixelFrame[]): Promise<void>;
  finish(): RenderedApng;
}

/** Frames that are packed side by side: their rows are held until then. */
const MOST_AT_ONCE = 4;

/**
 * From composed frames to a finished animated PNG: what changes, in the smallest rectangle, drawn either whole
 * or with what stays left out, whichever packs better. A frame that changes nothing lengthens the one before.
 */
export function startApng(options: ApngOptions): ApngRendering {
  const { reel, plays, deflate, onProgress } = options;
  const draw = options.settings.colours === 'palette' ? indexed(options) : trueColour(options);
  const frames: ApngFrame[] = [];
  const frameBytes: number[] = [];
  let size = { width: 0, height: 0 };
  let place = 0;
  let packer: RowPacker | null = null;
  return {
    async add(part) {
      size = { width: part[0].width, height: part[0].height };
      packer ??= createRowPacker(draw.bytesPerPixel, deflate);
      const waiting: Promise<void>[] = [];
      for (const drawn of draw.frames(part)) {
        const delayMs = reel[place++].delayCs * 10;
        const last = frames.at(-1);
        if (!drawn && last) {
          frames[frames.length - 1] = { ...last, delayMs: last.delayMs + delayMs };
          frameBytes.push(0);
          continue;
        }
        if (!drawn) throw new Error('The first frame is always drawn.');
        const at = frames.length;
        const shown = frameBytes.length;
        const { left, top, width, height } = drawn.rect;
        frames.push({ left, top, width, height, delayMs, isLaidOver: false, packed: new Uint8Array() });
        frameBytes.push(0);
        const pack = await packer.choose(drawn);
        waiting.push(
          pack().then(({ packed, isLaidOver }) => {
            frames[at] = { ...frames[at], packed, isLaidOver };
            frameBytes[shown] = apngFrameBytes(frames[at], at === 0);
            onProgress({ step: 'write', done: (shown + 1) / reel.length });
          }),
        );
        if (waiting.length >= MOST_AT_ONCE) await waiting.shift();
      }
      await Promise.all(waiting);
    },
    finish: () => ({
      bytes: writeApng(size, draw.colours(), frames, plays),
      frameBytes,
      palette: draw.palette(),
    }),
  };
}

/** How a reel becomes rectangles of bytes. */
interface Drawing {
  frames(part: readonly PixelFrame[]): Iterable<DrawnFrame | null>;
  readonly bytesPerPixel: number;
  colours(): PngColours;
  palette(): Uint8Array | null;
}

function trueColour({ reel, settings, isOpaque, isInParts, threads = SINGLE_THREAD }: ApngOptions): Drawing {
  const levels = settings.settle / patienceOf(reel);
  let clear: readonly [number, number, number] | null = null;
  let before: Uint32Array | null = null;
  // A colour that no frame has says “as it was”; of a reel in parts the later ones are not known.
  const hasKey = isOpaque && !isInParts;
  const bytes = isOpaque ? 3 : 4;
  return {
    *frames(part) {
      if (isOpaque && levels > 0) showSettled(settle(part, levels, { threads, isOpaque: true }));
      if (hasKey) clear = unusedColour(part);
      for (const frame of part) {
        const now = pixelWords(frame);
        yield drawTrueColour(frame, before, bytes, clear);
        before = now;
      }
    },
    bytesPerPixel: bytes,
    colours: () => (bytes === 4 ? { type: 'rgba' } : { type: 'rgb', clear }),
    palette: () => null,
  };
}

function indexed(options: ApngOptions): Drawing {
  const { reel, settings, matte, isOpaque, sample, threads, onProgress } = options;
  const planning = startPlanning({
    ...{ reel, matte, isOpaque, sample, threads, onProgress, chosen: NO_CHOICE, palette: 'loop' },
    price: settings.settle / patienceOf(reel),
    colors: settings.colors,
    dither: settings.dither,
    ditherStrength: settings.ditherStrength,
  });
  let rgb = new Uint8Array();
  let shown: Uint8Array | null = null;
  return {
    *frames(part) {
      const planned = planning.plan(part);
      const [palette] = planned.palettes;
      rgb = Uint8Array.from(palette.flat());
      const clear = palette.length;
      for (const [f, indices] of planned.plans.entries()) {
        const cleared = planned.cleared?.[f] ?? null;
        const now: Uint8Array = shown ? shown.slice() : new Uint8Array(indices.length).fill(clear);
        for (let p = 0; p < now.length; p++) {
          if (cleared?.[p] === 1) now[p] = clear;
          else if (planned.durations[f][p] > 0) now[p] = indices[p];
        }
        yield drawIndexed(planned, now, shown, clear);
        shown = now;
      }
    },
    bytesPerPixel: 1,
    colours: () => ({ type: 'palette', rgb, clear: true }),
    palette: () => rgb,
  };
}
