import { assertOneSize, type PixelFrame, pixelWords } from '../pixels/index.js';

/**
 * How much a pixel must change before it is redrawn.
 * All in sRGB levels (0–255).
 */
export interface SettleTolerance {
  /** Weighted colour distance from the segment's mean within which a pixel stays in its segment. */
  readonly colour: number;
  /** Mean luma distance of the 3×3 neighbourhood within which it stays. */
  readonly area: number;
  /** A lone change is dropped up to this many times `colour`. */
  readonly lone: number;
}

/**
 * Every pixel's history cut into segments of constant colour.
 *
 * The colours stand in the frames themselves: where `durations[f][p] > 0`, a segment begins at frame
 * `f`, pixel `p`, and `frames[f]` holds its colour there; elsewhere the segment goes on and the
 * frame's own bytes mean nothing any more. Durations are in frames.
 */
export interface SettledReel {
  readonly frames: readonly PixelFrame[];
  readonly durations: readonly Uint16Array[];
}

/**
 * Rows are worked in strips of this many, each on its own, so that the result is the same however
 * many workers share the strips.
 */
export const STRIP_ROWS = 32;

/** Levels are held in sixteenths, so that a segment's mean keeps its fraction. */
const FRACTION = 16;

/**
 * Makes every pixel piecewise constant in time. A pixel leaves its segment when its own colour or its
 * neighbourhood's luma moves away from the segment's **mean**; a change that no neighbour shares is
 * taken for grain. Judging by source change and never by the displayed colour keeps still areas
 * bit-identical under every dither.
 *
 * Works in place: the frames are overwritten (see SettledReel).
 * @throws RangeError for an empty reel, unequal sizes or more than 65535 frames.
 */
export function settle(frames: readonly PixelFrame[], tolerance: SettleTolerance | null): SettledReel {
  assertOneSize(frames);
  if (frames.length > 65535) throw new RangeError(`${frames.length} frames are too many; at most 65535.`);
  const { width, height } = frames[0];
  const durations = frames.map(() => new Uint16Array(width * height));
  if (!tolerance || (tolerance.colour <= 0 && tolerance.area <= 0)) {
    settleExactly(frames, durations);
  } else {
    const strip = createStripState(width, Math.min(STRIP_ROWS, height), tolerance);
    for (let top = 0; top < height; top += STRIP_ROWS) {
      settleStrip(frames, durations, strip, top, Math.min(STRIP_ROWS, height - top));
    }
  }
  return { frames, durations };
}

/** No tolerance: a segment ends where the colour changes at all. */
function settleExactly(frames: readonly PixelFrame[], durations: readonly Uint16Array[]): void {
  const words = frames.map(pixelWords);
  const pixels = words[0].length;
  for (let p = 0; p < pixels; p++) {
    let began = 0;
    for (let f = 1; f <= frames.length; f++) {
      if (f < frames.length && words[f][p] === words[began][p]) continue;
      durations[began][p] = f - began;
      began = f;
    }
  }
}

interface StripState {
  readonly width: number;
  readonly tolerance: SettleTolerance;
  readonly meanR: Int16Array;
  readonly meanG: Int16Array;
  readonly meanB: Int16Array;
  readonly sumR: Int32Array;
  readonly sumG: Int32Array;
  readonly sumB: Int32Array;
  readonly began: Uint16Array;
  /** Weighted squared colour distance ×7, in (1/16 level)². */
  readonly distance: Int32Array;
  /** Luma distance ×8, in 1/16 levels. */
  readonly luma: Int32Array;
  /** Sum of `luma` over three rows, with an empty column at both ends. */
  readonly columns: Int32Array;
  /** 1 where the pixel wants a new segment; one empty row and column all round. */
  readonly changed: Uint8Array;
}

function createStripState(width: number, rows: number, tolerance: SettleTolerance): StripState {
  const pixels = width * rows;
  return {
    width,
    tolerance,
    meanR: new Int16Array(pixels),
    meanG: new Int16Array(pixels),
    meanB: new Int16Array(pixels),
    sumR: new Int32Array(pixels),
    sumG: new Int32Array(pixels),
    sumB: new Int32Array(pixels),
    began: new Uint16Array(pixels),
    distance: new Int32Array(pixels),
    luma: new Int32Array(pixels),
    columns: new Int32Array(width + 2),
    changed: new Uint8Array((width + 2) * (rows + 2)),
  };
}

function settleStrip(
  frames: readonly PixelFrame[],
  durations: readonly Uint16Array[],
  strip: StripState,
  top: number,
  rows: number,
): void {
  const { width } = strip;
  const offset = top * width;
  const pixels = rows * width;
  strip.changed.fill(0);
  beginAll(frames[0].rgba, strip, offset, pixels);
  for (let f = 1; f < frames.length; f++) {
    measureDistances(frames[f].rgba, strip, offset, pixels);
    markChanges(strip, rows);
    advance(frames, durations, strip, f, offset, rows);
  }
  for (let p = 0; p < pixels; p++) closeSegment(frames, durations, strip, p, offset, frames.length);
}

function beginAll(rgba: Uint8Array, strip: StripState, offset: number, pixels: number): void {
  const { sumR, sumG, sumB, meanR, meanG, meanB, began } = strip;
  for (let p = 0, at = offset * 4; p < pixels; p++, at += 4) {
    sumR[p] = rgba[at];
    sumG[p] = rgba[at + 1];
    sumB[p] = rgba[at + 2];
    meanR[p] = rgba[at] * FRACTION;
    meanG[p] = rgba[at + 1] * FRACTION;
    meanB[p] = rgba[at + 2] * FRACTION;
    began[p] = 0;
  }
}

function measureDistances(rgba: Uint8Array, strip: StripState, offset: number, pixels: number): void {
  const { meanR, meanG, meanB, distance, luma } = strip;
  for (let p = 0, at = offset * 4; p < pixels; p++, at += 4) {
    const r = rgba[at] * FRACTION - meanR[p];
    const g = rgba[at + 1] * FRACTION - meanG[p];
    const b = rgba[at + 2] * FRACTION - meanB[p];
    distance[p] = 2 * r * r + 4 * g * g + b * b;
    luma[p] = 2 * r + 5 * g + b;
  }
}

/**
 * Marks pixels whose own or whose neighbourhood's distance is too large, as 1. Neighbours beyond the
 * strip's edge do not count.
 */
function markChanges(strip: StripState, rows: number): void {
  const { width, tolerance, distance, luma, columns, changed } = strip;
  const colourLimit = 7 * (tolerance.colour * FRACTION) ** 2;
  const areaLimit = 9 * 8 * FRACTION * tolerance.area;
  for (let y = 0; y < rows; y++) {
    const row = y * width;
    const above = y > 0 ? row - width : row;
    const below = y < rows - 1 ? row + width : row;
    for (let x = 0; x < width; x++) columns[x + 1] = luma[above + x] + luma[row + x] + luma[below + x];
    columns[0] = columns[1];
    columns[width + 1] = columns[width];
    const mark = (y + 1) * (width + 2) + 1;
    for (let x = 0; x < width; x++) {
      const area = columns[x] + columns[x + 1] + columns[x + 2];
      changed[mark + x] = distance[row + x] > colourLimit || area > areaLimit || area < -areaLimit ? 1 : 0;
    }
  }
}

/** Ends segments at frame `f` where a change is marked and not alone; elsewhere takes the frame in. */
function advance(
  frames: readonly PixelFrame[],
  durations: readonly Uint16Array[],
  strip: StripState,
  f: number,
  offset: number,
  rows: number,
): void {
  const { width, tolerance, sumR, sumG, sumB, meanR, meanG, meanB, began, distance, changed } = strip;
  const rgba = frames[f].rgba;
  const stride = width + 2;
  const loneLimit = 7 * (tolerance.colour * tolerance.lone * FRACTION) ** 2;
  for (let y = 0; y < rows; y++) {
    let at = (offset + y * width) * 4;
    let mark = (y + 1) * stride + 1;
    for (let p = y * width, end = p + width; p < end; p++, at += 4, mark++) {
      const r = rgba[at];
      const g = rgba[at + 1];
      const b = rgba[at + 2];
      if (changed[mark] === 1 && (distance[p] > loneLimit || changedNeighbours(changed, mark, stride) > 1)) {
        closeSegment(frames, durations, strip, p, offset, f);
        began[p] = f;
        sumR[p] = r;
        sumG[p] = g;
        sumB[p] = b;
        meanR[p] = r * FRACTION;
        meanG[p] = g * FRACTION;
        meanB[p] = b * FRACTION;
        continue;
      }
      const share = FRACTION / (f - began[p] + 1);
      sumR[p] += r;
      meanR[p] = sumR[p] * share + 0.5;
      sumG[p] += g;
      meanG[p] = sumG[p] * share + 0.5;
      sumB[p] += b;
      meanB[p] = sumB[p] * share + 0.5;
    }
  }
}

function changedNeighbours(changed: Uint8Array, mark: number, stride: number): number {
  const up = mark - stride;
  const down = mark + stride;
  return (
    changed[up - 1] +
    changed[up] +
    changed[up + 1] +
    changed[mark - 1] +
    changed[mark + 1] +
    changed[down - 1] +
    changed[down] +
    changed[down + 1]
  );
}

/** Writes the segment's rounded mean at the frame where it began, and how long it lasted. */
function closeSegment(
  frames: readonly PixelFrame[],
  durations: readonly Uint16Array[],
  strip: StripState,
  p: number,
  offset: number,
  until: number,
): void {
  const { sumR, sumG, sumB, began } = strip;
  const from = began[p];
  const count = until - from;
  const at = (offset + p) * 4;
  const rgba = frames[from].rgba;
  durations[from][offset + p] = count;
  rgba[at] = (sumR[p] / count + 0.5) | 0;
  rgba[at + 1] = (sumG[p] / count + 0.5) | 0;
  rgba[at + 2] = (sumB[p] / count + 0.5) | 0;
}
