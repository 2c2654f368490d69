import type { PlannedReel } from '../palette/index.js';
import { type Rgb, SINGLE_THREAD, type ThreadPool } from '../pixels/index.js';
import { LONGEST_DELAY_CS } from '../timing/index.js';
import { ByteSink } from './byte-sink.js';
import { type DrawSettings, type DrawWork, newDrawWork, startDrawing } from './draw-chunk.js';
import { minimumCodeBits, packIndices } from './lzw-tree.js';
import { assertDelay, type Rect, writeImageHeader, writeScreen, writeTrailer } from './writer.js';

export interface GifOptions extends Partial<DrawSettings> {
  readonly squeeze: number;
  /** One per frame, centiseconds. */
  readonly delaysCs: readonly number[];
  /** How often the reel is shown: 0 without end, 1 once, n times. */
  readonly plays: number;
  /**
   * Pixels of some frames may be clear, and the reel comes in parts: what each part leaves on the screen is
   * then taken away before the next one, which draws all that it shows.
   */
  readonly clearsBetweenParts?: boolean;
  /** Called after each part with the share done, 0–1. */
  readonly onProgress?: (done: number) => void;
  /** The threads that share the work; this one alone by default. */
  readonly threads?: ThreadPool;
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

/** What is drawn of a frame that changes nothing but must be written. */
const POINT: Rect = { left: 0, top: 0, width: 1, height: 1 };

/**
 * A whole first frame, then only what changes, cropped to the smallest rectangle, transparent where nothing
 * changes. Where pixels go out of sight, the image before them is disposed of to transparency. A frame that
 * changes nothing lengthens the one before.
 * @throws RangeError for what the format cannot hold, before the first byte.
 */
export function startGif(options: GifOptions): GifWriting {
  const { delaysCs, plays, clearsBetweenParts = false, threads = SINGLE_THREAD } = options;
  const { squeeze, redrawPrice = 0, isInterlaced = false, isDithered = false } = options;
  for (const wanted of delaysCs) assertDelay(wanted);
  const sink = new ByteSink();
  const frameBytes: number[] = [];
  let shown: Uint32Array = new Uint32Array(0);
  /** The colour table that stands once for all. */
  let common: readonly Rgb[] | null = null;
  // Where the last image's delay stands, and what it is: a frame that changes nothing is added to it.
  let delayAt = 0;
  let delay = 0;
  /**
   * What the last image leaves is taken away when its time is over: it cannot stand for longer in place of
   * the next frame.
   */
  let isDisposed = false;

  function begin({ width, height, palettes, paletteOf }: PlannedReel, extra: number): readonly Rgb[] {
    shown = new Uint32Array(threads.allocate(width * height * 4));
    // The table that most frames use; the others bring their own.
    const palette = palettes[mostUsed(paletteOf)];
    writeScreen(sink, { width, height, palette, entries: palette.length + extra, plays });
    return palette;
  }

  function add(part: PlannedReel): void {
    const first = frameBytes.length;
    const { length } = part.plans;
    const extraEntries = delaysCs.length > 1 || part.cleared !== null ? 1 : 0;
    common ??= begin(part, extraEntries);
    const work = newDrawWork(
      part,
      { squeeze, redrawPrice, isInterlaced, isDithered },
      {
        isFirst: first === 0,
        goesOn: first > 0 && !clearsBetweenParts,
        clearsAtEnd: clearsBetweenParts && first + length < delaysCs.length,
        ...{ extraEntries, shown },
      },
      threads,
    );
    threads.run(work, work.bounds.length - 1, startDrawing);
    if (work.clearsAtEnd) shown.fill(0);
    else shown.set(work.shownAfter);
    let chunk = 0;
    let used = 0;
    for (let f = 0; f < length; f++) {
      if (f === work.bounds[chunk + 1]) {
        chunk++;
        used = 0;
      }
      const from = sink.length;
      writeFrame(work, f, work.data[chunk].subarray(used, used + work.sizes[f]));
      used += work.sizes[f];
      frameBytes.push(sink.length - from);
    }
    options.onProgress?.(frameBytes.length / delaysCs.length);
  }

  function writeFrame(work: DrawWork, f: number, drawn: Uint8Array): void {
    const frame = frameBytes.length;
    if (drawn.length === 0 && frame > 0 && !isDisposed && delay + delaysCs[frame] <= LONGEST_DELAY_CS) {
      delay += delaysCs[frame];
      sink.patchU16(delayAt, delay);
      return;
    }
    delay = delaysCs[frame];
    const palette = work.palettes[work.paletteOf[f]];
    const entries = palette.length + work.extraEntries;
    const isDisposedOf = work.disposed[f] === 1;
    const isWhole = frame === 0 && !work.cleared && !isDisposedOf;
    const [left, top, width, height] = work.rects.subarray(f * 4, f * 4 + 4);
    delayAt = writeImageHeader(sink, {
      rect: drawn.length > 0 ? { left, top, width, height } : POINT,
      delayCs: delay,
      disposal: isDisposedOf ? 2 : 1,
      transparentIndex: isWhole ? null : palette.length,
      table: common && isSameTable(palette, common) ? null : { palette, entries },
      isInterlaced,
    });
    sink.put(drawn.length > 0 ? drawn : packIndices([palette.length], minimumCodeBits(entries)));
    isDisposed = isDisposedOf;
  }

  return {
    add,
    finish() {
      writeTrailer(sink);
      return { bytes: sink.take().slice(), frameBytes };
    },
  };
}

function isSameTable(a: readonly Rgb[], b: readonly Rgb[]): boolean {
  const isSame = (colour: Rgb, entry: number) => colour.every((level, c) => level === b[entry][c]);
  return a === b || (a.length === b.length && a.every(isSame));
}

/** The number that stands most often in a list. */
function mostUsed(numbers: readonly number[]): number {
  const counts: number[] = [];
  for (const number of numbers) counts[number] = (counts[number] ?? 0) + 1;
  let most = numbers[0];
  for (const number of numbers) if (counts[number] > counts[most]) most = number;
  return most;
}
