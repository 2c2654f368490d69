import { createFrame, type PixelFrame, pixelWords } from './frame.js';

/** How much of several frames each place shows: numbers at the centres of cells, even in between. */
export interface ShareMap {
  readonly cols: number;
  readonly rows: number;
  /** The picture's size in cells: at most cols × rows, the last ones perhaps only in part. */
  readonly across: number;
  readonly down: number;
  /** One table a frame, 0–1; together they make 1 in every cell. */
  readonly shares: readonly Float32Array[];
}

/**
 * Several frames of one size mixed, as a dissolve does: the coded values, weighted by alpha, so that what is
 * clear brings no colour in.
 * @param shares one a frame, together 1; or a map of them.
 * @throws RangeError for no frame, sizes that differ, or another number of shares.
 */
export function mixFrames(frames: readonly PixelFrame[], shares: readonly number[] | ShareMap): PixelFrame {
  const [first] = frames;
  if (!first) throw new RangeError('Nothing was given to mix.');
  for (const { width, height } of frames) {
    if (width !== first.width || height !== first.height) {
      throw new RangeError(
        `Frames of ${first.width} × ${first.height} and ${width} × ${height} cannot be mixed. Give them one size first.`,
      );
    }
  }
  const map = isMap(shares) ? shares : null;
  const even = isMap(shares) ? [] : shares;
  if ((map?.shares ?? even).length !== frames.length) {
    throw new RangeError('To mix frames, each needs a share.');
  }
  const mixed = createFrame(first.width, first.height);
  const sources = frames.map((frame) => frame.rgba);
  if (map) mixByMap(frames, sources, map, mixed);
  else mixRun(sources, Float64Array.from(even), null, mixed.rgba, 0, first.width * first.height);
  return mixed;
}

function isMap(shares: readonly number[] | ShareMap): shares is ShareMap {
  return !Array.isArray(shares);
}

/**
 * Pixels from `from` to before `to`, with the given weights; where `steps` is given, they change by it from
 * each pixel to the next.
 */
function mixRun(
  sources: readonly Uint8Array[],
  weights: Float64Array,
  steps: Float64Array | null,
  out: Uint8Array,
  from: number,
  to: number,
): void {
  const count = sources.length;
  for (let i = from * 4; i < to * 4; i += 4) {
    let [alpha, red, green, blue] = [0, 0, 0, 0];
    for (let k = 0; k < count; k++) {
      const source = sources[k];
      const weight = source[i + 3] * weights[k];
      alpha += weight;
      red += source[i] * weight;
      green += source[i + 1] * weight;
      blue += source[i + 2] * weight;
      if (steps) weights[k] += steps[k];
    }
    out[i + 3] = Math.round(alpha);
    if (alpha === 0) continue;
    out[i] = Math.round(red / alpha);
    out[i + 1] = Math.round(green / alpha);
    out[i + 2] = Math.round(blue / alpha);
  }
}

/** A stretch of a row or column between two neighbouring centres of cells. */
interface Stretch {
  readonly from: number;
  readonly to: number;
  /** The cells before and after it. */
  readonly low: number;
  readonly high: number;
}

/** @param cells how many lie along the side, the last perhaps in part. */
function stretches(side: number, cells: number, count: number): Stretch[] {
  const found: Stretch[] = [];
  const centre = (cell: number) => Math.ceil(((cell + 0.5) / cells) * side - 0.5);
  for (let low = -1; low < count; low++) {
    const from = low < 0 ? 0 : Math.min(side, Math.max(0, centre(low)));
    const to = low + 1 >= count ? side : Math.min(side, Math.max(0, centre(low + 1)));
    if (to > from) found.push({ from, to, low: Math.max(0, low), high: Math.min(count - 1, low + 1) });
  }
  return found;
}

function mixByMap(
  frames: readonly PixelFrame[],
  sources: readonly Uint8Array[],
  { cols, rows, across, down, shares }: ShareMap,
  mixed: PixelFrame,
): void {
  const { width, height } = mixed;
  const words = frames.map(pixelWords);
  const out = pixelWords(mixed);
  const alone = aloneIn(shares, cols * rows);
  const columns = stretches(width, across, cols);
  for (const row of stretches(height, down, rows)) {
    for (const column of columns) {
      const corners = [
        row.low * cols + column.low,
        row.low * cols + column.high,
        row.high * cols + column.low,
        row.high * cols + column.high,
      ] as const;
      const one = alone[corners[0]];
      if (one >= 0 && corners.every((corner) => alone[corner] === one)) {
        for (let y = row.from; y < row.to; y++) {
          const at = y * width;
          out.set(words[one].subarray(at + column.from, at + column.to), at + column.from);
        }
        continue;
      }
      const used = [...shares.keys()].filter((k) => corners.some((corner) => shares[k][corner] > 0));
      mixPatch(
        used.map((k) => sources[k]),
        used.map((k) => corners.map((corner) => shares[k][corner])),
        mixed,
        row,
        column,
        { across: across / width, down: down / height },
      );
    }
  }
}

/** The frame that is all a cell shows, or −1. */
function aloneIn(shares: readonly Float32Array[], cells: number): Int8Array {
  const alone = new Int8Array(cells).fill(-1);
  for (const [k, table] of shares.entries()) {
    for (let cell = 0; cell < cells; cell++) if (table[cell] === 1) alone[cell] = k;
  }
  return alone;
}

/** @param corners of each frame: its shares at the cells upper left, upper right, lower left, lower right. */
function mixPatch(
  sources: readonly Uint8Array[],
  corners: readonly (readonly number[])[],
  { width, rgba }: PixelFrame,
  row: Stretch,
  column: Stretch,
  cellsPerPixel: { readonly across: number; readonly down: number },
): void {
  const weights = new Float64Array(sources.length);
  const steps = new Float64Array(sources.length);
  const left = (column.from + 0.5) * cellsPerPixel.across - 0.5 - column.low;
  const isWide = column.high > column.low;
  for (let y = row.from; y < row.to; y++) {
    const low = row.high > row.low ? (y + 0.5) * cellsPerPixel.down - 0.5 - row.low : 0;
    for (const [k, [a, b, c, d]] of corners.entries()) {
      const near = a + (c - a) * low;
      const slope = isWide ? b + (d - b) * low - near : 0;
      weights[k] = near + slope * left;
      steps[k] = slope * cellsPerPixel.across;
    }
    mixRun(sources, weights, steps, rgba, y * width + column.from, y * width + column.to);
  }
}
