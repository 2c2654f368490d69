import {
  growKernel,
  type KernelMemory,
  layOnGrey,
  type PixelFrame,
  type Size,
  startKernel,
} from '../pixels/index.js';
import { WEAVE_KERNEL } from './weave-kernel.js';

/** Sides are padded to whole groups of so many pixels; what is padded is 0 in every frame. */
const PAD = 8;

/**
 * Luma of every pixel and chroma of every 2 × 2 of them, bytes; frames one after the other, rows of `pitch`
 * and of `pitch` (Cb, Cr in turn).
 */
export interface Planes extends Size {
  readonly count: number;
  /** Bytes of a row of luma; a row of chroma has as many. */
  readonly pitch: number;
  readonly paddedHeight: number;
  readonly luma: Uint8Array;
  readonly chroma: Uint8Array;
  /** Where they lie in the memory of a kernel; null where it cannot run. */
  readonly kernel: PlanesKernel | null;
}

/** The squares of cells, over memory in which the planes lie. */
interface WeaveKernel extends KernelMemory {
  /** Mean squared differences of two frames in groups of 8 × 8 or 4 × 4 px. */
  squares(
    lumaA: number,
    lumaB: number,
    chromaA: number,
    chromaB: number,
    pitch: number,
    rows: number,
    cell: number,
    lumaShares: number,
    chromaShares: number,
    out: number,
  ): void;
}

export interface PlanesKernel {
  readonly exports: WeaveKernel;
  /** Bytes from the start of its memory. */
  readonly luma: number;
  readonly chroma: number;
  /** Room behind the planes: three tables of a number a cell of 4 px. */
  readonly room: number;
}

/**
 * Planes for `count` frames, all black.
 * @param plain whether no kernel is used; the results are the same.
 * @throws RangeError for sides below 1 px or no frames.
 */
export function createPlanes({ width, height }: Size, count: number, plain = false): Planes {
  if (!(width >= 1 && height >= 1 && count >= 1)) {
    throw new RangeError(`Planes need a size and frames; got ${width} × ${height} px, ${count} frames.`);
  }
  const pitch = padded(width);
  const paddedHeight = padded(height);
  const lumaBytes = pitch * paddedHeight * count;
  const chromaBytes = lumaBytes / 2;
  const exports = plain ? null : startKernel<WeaveKernel>(WEAVE_KERNEL);
  const size = { width, height, count, pitch, paddedHeight };
  if (!exports) {
    return { ...size, luma: new Uint8Array(lumaBytes), chroma: new Uint8Array(chromaBytes), kernel: null };
  }
  const luma = exports.memory.buffer.byteLength;
  const chroma = luma + lumaBytes;
  const room = chroma + chromaBytes;
  growKernel(exports, room + 3 * 4 * ((pitch * paddedHeight) / 16));
  const { buffer } = exports.memory;
  return {
    ...size,
    luma: new Uint8Array(buffer, luma, lumaBytes),
    chroma: new Uint8Array(buffer, chroma, chromaBytes),
    kernel: { exports, luma, chroma, room },
  };
}

function padded(side: number): number {
  return Math.ceil(side / PAD) * PAD;
}

/**
 * Luma and chroma of one picture (BT.601 weights, full range), on middle grey where it is not opaque.
 * @throws RangeError when its size is another one.
 */
export function putFrame(planes: Planes, index: number, frame: PixelFrame): void {
  const { width, height, pitch, paddedHeight, luma, chroma } = planes;
  if (frame.width !== width || frame.height !== height) {
    throw new RangeError(
      `A frame of ${frame.width} × ${frame.height} px does not fit planes of ${width} × ${height} px.`,
    );
  }
  const rgba = layOnGrey(frame.rgba);
  const at = index * pitch * paddedHeight;
  for (let y = 0; y < height; y++) {
    const row = at + y * pitch;
    for (let x = 0, i = y * width * 4; x < width; x++, i += 4) {
      luma[row + x] = (77 * rgba[i] + 150 * rgba[i + 1] + 29 * rgba[i + 2] + 128) >> 8;
    }
  }
  for (let y = 0; y < height; y += 2) {
    const out = (at >> 1) + (y >> 1) * pitch;
    // At an odd edge the last row or column stands for both.
    const below = y + 1 < height ? width * 4 : 0;
    for (let x = 0, i = y * width * 4; x < width; x += 2, i += 8) {
      const beside = x + 1 < width ? 4 : 0;
      const r = rgba[i] + rgba[i + beside] + rgba[i + below] + rgba[i + below + beside];
      const g = rgba[i + 1] + rgba[i + beside + 1] + rgba[i + below + 1] + rgba[i + below + beside + 1];
      const b = rgba[i + 2] + rgba[i + beside + 2] + rgba[i + below + 2] + rgba[i + below + beside + 2];
      chroma[out + x] = clampByte(128 + ((-43 * r - 85 * g + 128 * b + 512) >> 10));
      chroma[out + x + 1] = clampByte(128 + ((128 * r - 107 * g - 21 * b + 512) >> 10));
    }
  }
}

function clampByte(value: number): number {
  return Math.max(0, Math.min(255, value));
}

/** Some of the frames, and behind them room for as many more. @param to exclusive. */
export function cutPlanes(planes: Planes, from: number, to: number, room: number): Planes {
  const cut = createPlanes(planes, to - from + room, planes.kernel === null);
  const bytes = planes.pitch * planes.paddedHeight;
  cut.luma.set(planes.luma.subarray(from * bytes, to * bytes));
  cut.chroma.set(planes.chroma.subarray((from * bytes) / 2, (to * bytes) / 2));
  return cut;
}

/** Planes of a quarter of the sides, for looking at what is coarse: means of 4 × 4 places. */
export function quarterPlanes(planes: Planes): Planes {
  const { width, height, count, pitch, paddedHeight, luma } = planes;
  const small = createPlanes(
    { width: Math.max(1, width >> 2), height: Math.max(1, height >> 2) },
    count,
    planes.kernel === null,
  );
  const chromaSize = [(small.width + 1) >> 1, (small.height + 1) >> 1] as const;
  for (let frame = 0; frame < count; frame++) {
    const from = frame * pitch * paddedHeight;
    const to = frame * small.pitch * small.paddedHeight;
    for (let y = 0; y < small.height; y++) {
      for (let x = 0; x < small.width; x++) {
        let sum = 0;
        for (let dy = 0; dy < 4; dy++) {
          const at = from + Math.min(height - 1, 4 * y + dy) * pitch + 4 * x;
          // Only pictures that are narrower than that end within it.
          const last = width - 1 - 4 * x;
          if (last >= 3) sum += luma[at] + luma[at + 1] + luma[at + 2] + luma[at + 3];
          else for (let dx = 0; dx < 4; dx++) sum += luma[at + Math.min(dx, last)];
        }
        small.luma[to + y * small.pitch + x] = (sum + 8) >> 4;
      }
    }
    const lastRow = ((height + 1) >> 1) - 1;
    const lastColumn = ((width + 1) >> 1) - 1;
    for (let y = 0; y < chromaSize[1]; y++) {
      for (let x = 0; x < chromaSize[0]; x++) {
        let [blue, red] = [0, 0];
        for (let dy = 0; dy < 4; dy++) {
          const row = from / 2 + Math.min(lastRow, 4 * y + dy) * pitch;
          for (let dx = 0; dx < 4; dx++) {
            const at = row + 2 * Math.min(lastColumn, 4 * x + dx);
            blue += planes.chroma[at];
            red += planes.chroma[at + 1];
          }
        }
        const at = to / 2 + y * small.pitch + 2 * x;
        small.chroma[at] = (blue + 8) >> 4;
        small.chroma[at + 1] = (red + 8) >> 4;
      }
    }
  }
  return small;
}
