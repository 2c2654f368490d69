import { type CellGrid, cellMeans, meanAround, openCellSquares } from './cells.js';
import type { Planes } from './planes.js';

/** What is known of every cell of a take, whatever length its loop will have. Squared levels. */
export interface CellStatistics {
  readonly grid: CellGrid;
  /** Frames of the take; in the planes the plate stands behind them. */
  readonly frames: number;
  /** What noise alone makes between two frames. */
  readonly noise: Float32Array;
  /** What is usual from one frame to the next, noise taken out: the upper quartile over time. */
  readonly step: Float32Array;
  /** Distance to the plate, frame by frame: frames × cells. */
  readonly away: Float32Array;
  /** 1 / (usual step + what is hardly seen): turns squared levels into squared usual steps. */
  readonly scale: Float32Array;
  /** Running sums of how plainly each frame differs from the plate: entry f sums the frames before f. */
  readonly offPlate: Float64Array;
  /** How much a cell is alive, 0–1: 0 where it hardly differs from the plate. */
  readonly alive: Float32Array;
  /** From frame to frame, noise included: (frames − 1) × cells. */
  readonly steps: Float32Array;
  /** Variance over time of a cell's mean luma, from frame `from` to before `to`. */
  variance(cell: number, from: number, to: number): number;
}

/** Beside the noise, squared levels: what is hardly seen. */
const HARDLY_SEEN = 2;
/** Levels of spread over time from which a cell is fully alive. */
const LIVELY = 4;
/** Lights in which noise is told apart: sensors and codecs are noisier in some. */
const LIGHTS = 12;
/** Fewer cells of a light than this tell nothing. */
const LEAST_CELLS = 60;

/**
 * @param planes the take's frames, and behind them one more for the plate.
 */
export function cellStatistics(planes: Planes, grid: CellGrid): CellStatistics {
  const frames = planes.count - 1;
  const squares = openCellSquares(planes, grid);
  const cells = grid.cols * grid.rows;
  const steps = new Float32Array(Math.max(0, frames - 1) * cells);
  const away = new Float32Array(frames * cells);
  for (let f = 0; f + 1 < frames; f++) squares.between(f, f + 1, steps, f * cells);
  for (let f = 0; f < frames; f++) squares.between(f, frames, away, f * cells);
  const { median, high } = quantiles(steps, cells);
  const noise = noiseByLight(planes, grid, median);
  const step = meanAround(
    high.map((value, x) => Math.max(0, value - noise[x])),
    grid,
  );
  const alive = new Float32Array(cells);
  for (let x = 0; x < cells; x++) {
    let sum = 0;
    for (let f = 0; f < frames; f++) sum += away[f * cells + x];
    const spread = Math.max(0, sum / frames - noise[x] / 2);
    alive[x] = Math.min(1, Math.max(0, spread - 0.6 * noise[x] - HARDLY_SEEN) / LIVELY ** 2);
  }
  const scale = step.map((value) => 1 / (value + UNSEEN));
  const offPlate = new Float64Array((frames + 1) * cells);
  for (let at = 0; at < frames * cells; at++) {
    const x = at % cells;
    const off = Math.max(0, away[at] - (NOISE_TAKEN / 2) * noise[x]) * scale[x];
    offPlate[at + cells] = offPlate[at] + plainness(off);
  }
  const variance = variances(planes, grid, frames);
  return { grid, frames, noise, step, scale, away, offPlate, alive, steps, variance };
}

/** What is hardly seen where nothing moves, squared levels. */
const UNSEEN = 4;
/** Squared usual steps from which a frontier is plain to see. */
const PLAIN = 4;
/** Noise is taken out of a distance of two frames this many times. */
export const NOISE_TAKEN = 1.2;

/** A frontier between things no further apart than usual steps is hardly seen; one through a thing is. */
export function plainness(squared: number): number {
  return (squared * squared) / (squared + PLAIN);
}

/** Median and upper quartile over time of every cell. */
function quantiles(steps: Float32Array, cells: number) {
  const count = steps.length / cells;
  const median = new Float32Array(cells);
  const high = new Float32Array(cells);
  const series = new Float32Array(count);
  for (let x = 0; x < cells && count > 0; x++) {
    for (let f = 0; f < count; f++) series[f] = steps[f * cells + x];
    series.sort();
    median[x] = series[count >> 1];
    high[x] = series[Math.floor(count * 0.75)];
  }
  return { median, high };
}

/** Noise of every cell: in each light, the lower quartile of the median steps. */
function noiseByLight(planes: Planes, grid: CellGrid, median: Float32Array): Float32Array {
  const light = new Float32Array(median.length);
  cellMeans(planes, grid, planes.count >> 1, light);
  const overall = Float32Array.from(median).sort()[median.length >> 2];
  const byLight = Float32Array.from({ length: LIGHTS }, (_, bin) => {
    const near = median.filter((_, x) => Math.abs((light[x] / 256) * LIGHTS - bin - 0.5) < 1).sort();
    return near.length > LEAST_CELLS ? Math.min(near[near.length >> 2], 4 * overall + 2) : overall;
  });
  return light.map((value) => byLight[Math.min(LIGHTS - 1, Math.floor((value / 256) * LIGHTS))]);
}

/** Running sums of each cell's mean luma and of its square give the variance of any stretch at once. */
function variances(planes: Planes, grid: CellGrid, frames: number): CellStatistics['variance'] {
  const cells = grid.cols * grid.rows;
  const sums = new Float64Array((frames + 1) * cells);
  const squares = new Float64Array((frames + 1) * cells);
  const usual = new Float32Array(cells);
  const means = new Float32Array(cells);
  cellMeans(planes, grid, frames, usual);
  for (let f = 0; f < frames; f++) {
    cellMeans(planes, grid, f, means);
    for (let x = 0; x < cells; x++) {
      const value = means[x] - usual[x];
      sums[(f + 1) * cells + x] = sums[f * cells + x] + value;
      squares[(f + 1) * cells + x] = squares[f * cells + x] + value * value;
    }
  }
  return (x, from, to) => {
    const count = to - from;
    const mean = (sums[to * cells + x] - sums[from * cells + x]) / count;
    const square = (squares[to * cells + x] - squares[from * cells + x]) / count;
    return Math.max(0, square - mean * mean);
  };
}

/** Frames looked at for the plate. */
const PLATE_SAMPLES = 25;
/** A difference counts no more than this, levels: what passes through must not decide. */
const MOST_OFF = 24;

/**
 * The real frame nearest to the median of some. The median itself would be pieced together from several
 * moments wherever something passes through.
 * @returns its index.
 */
export function choosePlateFrame(planes: Planes, frames = planes.count - 1): number {
  const { luma, pitch, paddedHeight } = planes;
  const bytes = pitch * paddedHeight;
  const count = Math.min(PLATE_SAMPLES, frames);
  const samples = Array.from({ length: count }, (_, k) => Math.floor(((k + 0.5) * frames) / count));
  const off = new Float64Array(count);
  const column = new Uint8Array(count);
  // Every fourth pixel of every fourth row tells as much.
  for (let y = 0; y < paddedHeight; y += 4) {
    for (let p = y * pitch; p < (y + 1) * pitch; p += 4) {
      for (let k = 0; k < count; k++) column[k] = luma[samples[k] * bytes + p];
      const middle = Uint8Array.from(column).sort()[count >> 1];
      for (let k = 0; k < count; k++) off[k] += Math.min(MOST_OFF, Math.abs(column[k] - middle));
    }
  }
  return samples[off.indexOf(Math.min(...off))];
}
