import type { PlannedReel } from '../palette/index.js';
import { LONGEST_DELAY_CS } from '../timing/index.js';
import { boundsOf } from './bounds.js';
import { ByteSink } from './byte-sink.js';
import { drawFrame, markDrawn } from './draw-frame.js';
import { LzwEncoder, minimumCodeBits } from './lzw-encoder.js';
import { type FramePalette, numberColours } from './reel-colours.js';
import { createSeeThrough } from './see-through.js';
import { assertDelay, type Rect, writeImageHeader, writeScreen, writeTrailer } from './writer.js';

export interface GifOptions {
  /** One per frame, centiseconds. */
  readonly delaysCs: readonly number[];
  /** How often the reel is shown: 0 without end, 1 once, n times. */
  readonly plays: number;
  /** How far similar pixel runs may be merged, in levels; 0 writes the plan exactly. */
  readonly squeeze: number;
  /** What a pixel's change must bring to be drawn, in levels for one frame; 0 draws every change. */
  readonly hold?: number;
  /** Called after each frame with the share done, 0–1. */
  readonly onProgress?: (done: number) => void;
}

export interface EncodedGif {
  readonly bytes: Uint8Array;
  /** Bytes of each frame of the reel, headers included; 0 where it was merged into the one before. */
  readonly frameBytes: readonly number[];
}

/**
 * Writes a planned reel as GIF89a: a whole first frame, then only what changes, cropped to the smallest
 * rectangle, transparent where nothing changes. Where pixels go out of sight, the image before them is disposed of to
 * transparency. A frame that changes nothing lengthens the one before.
 * @throws RangeError for what the format cannot hold, before the first byte.
 */
export function encodeGif(reel: PlannedReel, options: GifOptions): EncodedGif {
  const { width, height, plans, masking } = reel;
  const { delaysCs, plays, squeeze, hold = 0 } = options;
  for (const wanted of delaysCs) assertDelay(wanted);
  if (delaysCs.length !== plans.length) {
    throw new RangeError(`The reel has ${plans.length} frames but ${delaysCs.length} delays.`);
  }
  const hasTransparency = plans.length > 1 || reel.cleared !== null;
  const colours = numberColours(reel);
  // The table that most frames use stands once for all; the others bring their own.
  const common = mostUsed(reel.of);
  const entriesOf = (palette: FramePalette) => palette.palette.length + (hasTransparency ? 1 : 0);
  const sink = new ByteSink();
  const { palette, entries } = { ...colours.palettes[common], entries: entriesOf(colours.palettes[common]) };
  writeScreen(sink, { width, height, palette, entries, plays });
  const shown = new Uint32Array(width * height).fill(colours.nothing);
  const seeThrough = reel.cleared && createSeeThrough(reel, colours, shown);
  const drawn = new Uint8Array(width * height);

  const frameBytes: number[] = [];
  // Where the last image's delay stands, and what it is: a frame that changes nothing is added to it.
  let delayAt = 0;
  let delay = 0;
  for (let f = 0; f < plans.length; f++) {
    const from = sink.length;
    const due = seeThrough ? seeThrough.due(f) : { plan: plans[f], durations: reel.durations[f] };
    const framePalette = colours.palettes[reel.of[f]];
    const draft = {
      ...due,
      rgba: reel.frames[f].rgba,
      masking,
      shown,
      drawn,
      width,
      colours,
      palette: framePalette,
    };
    markDrawn(draft, hold);
    const changed = boundsOf(width, height, (p) => drawn[p] === 1);
    const clears = seeThrough?.clearedAfter(f) ?? null;
    const rect = unite(changed, clears);
    if (!rect && f > 0 && delay + delaysCs[f] <= LONGEST_DELAY_CS) {
      delay += delaysCs[f];
      sink.patchU16(delayAt, delay);
    } else {
      delay = delaysCs[f];
      const tableEntries = entriesOf(framePalette);
      delayAt = writeImageHeader(sink, {
        rect: rect ?? POINT,
        delayCs: delay,
        disposal: clears ? 2 : 1,
        transparentIndex: f === 0 && !seeThrough ? null : framePalette.palette.length,
        table: reel.of[f] === common ? null : { palette: framePalette.palette, entries: tableEntries },
      });
      const lzw = new LzwEncoder(sink, minimumCodeBits(tableEntries));
      drawFrame(lzw, draft, rect ?? POINT, squeeze);
      lzw.finish();
      if (clears) seeThrough?.dispose(rect ?? POINT);
    }
    frameBytes.push(sink.length - from);
    options.onProgress?.((f + 1) / plans.length);
  }
  writeTrailer(sink);
  return { bytes: sink.take().slice(), frameBytes };
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
