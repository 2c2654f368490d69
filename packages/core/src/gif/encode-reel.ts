import type { PlannedReel } from '../palette/index.js';
import { LONGEST_DELAY_CS } from '../timing/index.js';
import { createAlphaReel } from './alpha.js';
import { boundsOf } from './bounds.js';
import { ByteSink } from './byte-sink.js';
import { drawFrame, markDrawn } from './draw-frame.js';
import { LzwEncoder, minimumCodeBits } from './lzw-encoder.js';
import { createReelColours, type FramePalette, NOTHING } from './reel-colours.js';
import { assertDelay, type Rect, writeImageHeader, writeScreen, writeTrailer } from './writer.js';

export interface GifOptions {
  /** One per frame, centiseconds. */
  readonly delaysCs: readonly number[];
  /** How often the reel is shown: 0 without end, 1 once, n times. */
  readonly plays: number;
  /** How far similar pixel runs may be merged, in levels; 0 writes the plan exactly. */
  readonly squeeze: number;
  /** What a pixel's change must bring to be drawn, in levels for one frame; 0 draws every change. */
  readonly redrawPrice?: number;
  /**
   * Pixels of some frames may be clear, and the reel comes in parts: what each part leaves on the screen is
   * then taken away before the next one, which draws all that it shows.
   */
  readonly clearsBetweenParts?: boolean;
  /** Whether a slow line shows every eighth row first. */
  readonly isInterlaced?: boolean;
  /** Called after each frame with the share done, 0–1. */
  readonly onProgress?: (done: number) => void;
}

export interface EncodedGif {
  readonly bytes: Uint8Array;
  /** Bytes of each frame of the reel, headers included; 0 where it was merged into the one before. */
  readonly frameBytes: readonly number[];
}

/**
 * Writes a planned reel as GIF89a.
 * @throws RangeError for what the format cannot hold, before the first byte.
 */
export function encodeGif(reel: PlannedReel, options: GifOptions): EncodedGif {
  if (options.delaysCs.length !== reel.plans.length) {
    throw new RangeError(`The reel has ${reel.plans.length} frames but ${options.delaysCs.length} delays.`);
  }
  const writing = startGif(options);
  writing.add(reel);
  return writing.finish();
}

/** A file being written, part after part. */
export interface GifWriting {
  /** Writes the next frames of the reel. */
  add(part: PlannedReel): void;
  finish(): EncodedGif;
}

/**
 * A whole first frame, then only what changes, cropped to the smallest rectangle, transparent where nothing
 * changes. Where pixels go out of sight, the image before them is disposed of to transparency. A frame that
 * changes nothing lengthens the one before.
 * @throws RangeError for what the format cannot hold, before the first byte.
 */
export function startGif(options: GifOptions): GifWriting {
  const { delaysCs, plays, squeeze, redrawPrice = 0 } = options;
  const { clearsBetweenParts = false, isInterlaced = false } = options;
  for (const wanted of delaysCs) assertDelay(wanted);
  const sink = new ByteSink();
  const colours = createReelColours();
  const frameBytes: number[] = [];
  let shown = new Uint32Array(0);
  let drawn = new Uint8Array(0);
  /** The colour table that stands once for all. */
  let common: FramePalette | null = null;
  // Where the last image's delay stands, and what it is: a frame that changes nothing is added to it.
  let delayAt = 0;
  let delay = 0;
  /**
   * What the last image leaves is taken away when its time is over: it cannot stand for longer in place of
   * the next frame.
   */
  let isDisposed = false;

  function begin(part: PlannedReel, palettes: readonly FramePalette[], extra: number): FramePalette {
    const { width, height } = part;
    shown = new Uint32Array(width * height).fill(NOTHING);
    drawn = new Uint8Array(width * height);
    // The table that most frames use; the others bring their own.
    const first = palettes[mostUsed(part.paletteOf)];
    const { palette } = first;
    writeScreen(sink, { width, height, palette, entries: palette.length + extra, plays });
    return first;
  }

  function add(part: PlannedReel): void {
    const { width, height, plans, masking } = part;
    const palettes = colours.number(part.palettes);
    const hasTransparency = delaysCs.length > 1 || part.cleared !== null;
    const extra = hasTransparency ? 1 : 0;
    common ??= begin(part, palettes, extra);
    const hasAlpha = part.cleared && createAlphaReel(part, palettes, shown);
    for (let f = 0; f < plans.length; f++) {
      const from = sink.length;
      const frame = frameBytes.length;
      const planned = hasAlpha ? hasAlpha.planned(f) : { plan: plans[f], durations: part.durations[f] };
      const palette = palettes[part.paletteOf[f]];
      const { rgba } = part.frames[f];
      const draft = { ...planned, rgba, masking, shown, drawn, width, values: colours.values(), palette };
      markDrawn(draft, redrawPrice, f === 0 && frame > 0 && !clearsBetweenParts);
      const changed = boundsOf(width, height, (p) => drawn[p] === 1);
      const endsPart = clearsBetweenParts && f === plans.length - 1 && frame < delaysCs.length - 1;
      const clears = endsPart ? { left: 0, top: 0, width, height } : (hasAlpha?.clearedAfter(f) ?? null);
      const rect = unite(changed, clears);
      if (!rect && frame > 0 && !isDisposed && delay + delaysCs[frame] <= LONGEST_DELAY_CS) {
        delay += delaysCs[frame];
        sink.patchU16(delayAt, delay);
      } else {
        delay = delaysCs[frame];
        const entries = palette.palette.length + extra;
        delayAt = writeImageHeader(sink, {
          rect: rect ?? POINT,
          delayCs: delay,
          disposal: clears ? 2 : 1,
          transparentIndex: frame === 0 && !hasAlpha && !clears ? null : palette.palette.length,
          table: isSameTable(palette, common) ? null : { palette: palette.palette, entries },
          isInterlaced,
        });
        const lzw = new LzwEncoder(sink, minimumCodeBits(entries));
        drawFrame(lzw, draft, rect ?? POINT, squeeze, isInterlaced);
        lzw.finish();
        isDisposed = clears !== null;
        if (endsPart) shown.fill(NOTHING);
        else if (clears) hasAlpha?.dispose(rect ?? POINT);
      }
      frameBytes.push(sink.length - from);
      options.onProgress?.(frameBytes.length / delaysCs.length);
    }
  }

  return {
    add,
    finish() {
      writeTrailer(sink);
      return { bytes: sink.take().slice(), frameBytes };
    },
  };
}

function isSameTable(a: FramePalette, b: FramePalette): boolean {
  return a === b || (a.ids.length === b.ids.length && a.ids.every((id, entry) => id === b.ids[entry]));
}

/** The number that stands most often in a list. */
function mostUsed(numbers: readonly number[]): number {
  const counts: number[] = [];
  for (const number of numbers) counts[number] = (counts[number] ?? 0) + 1;
  let most = numbers[0];
  for (const number of numbers) if (counts[number] > counts[most]) most = number;
  return most;
}

/** The smallest rectangle that holds both. */
function unite(a: Rect | null, b: Rect | null): Rect | null {
  if (!a || !b) return a ?? b;
  const left = Math.min(a.left, b.left);
  const top = Math.min(a.top, b.top);
  return {
    left,
    top,
    width: Math.max(a.left + a.width, b.left + b.width) - left,
    height: Math.max(a.top + a.height, b.top + b.height) - top,
  };
}

/** What is drawn of a frame that changes nothing but must be written. */
const POINT: Rect = { left: 0, top: 0, width: 1, height: 1 };
