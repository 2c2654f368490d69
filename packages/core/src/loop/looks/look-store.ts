import { LRUCache } from 'lru-cache';
import type { Size } from '../../pixels/index.js';
import { type Look, type Looks, lookBytes, readLook, shiftLook } from './look.js';

/** Frames that are read together. */
const CELL = 32;
/** Frames that are read at once at most. */
const MOST_READ = 512;
/** Looks that are kept unpacked; what is known of the movement between them lives as long. */
const MOST_UNPACKED = 160;

/** Shift in shares of the picture and light in levels, by which a frame is off. */
export interface LookShift {
  readonly x: number;
  readonly y: number;
  readonly light: number;
}

/** Looks of one take, read when they are needed. */
export interface LookStore extends Looks {
  /** Has the looks of some frames at hand. @throws what reading them throws; the next call tries again. */
  load(frames: readonly number[]): Promise<void>;
  /** The same looks with camera and light where they should be. Belongs to this store and loads with it. */
  shifted(by: (frame: number) => LookShift): Looks;
}

/**
 * @param size of the looks.
 * @param frameCount frames of the take.
 * @param read looks of frames from one to another, exclusive, one after the other as writeLook writes them.
 */
export function createLookStore(
  size: Size,
  frameCount: number,
  read: (from: number, to: number) => Promise<Uint8Array>,
): LookStore {
  const bytes = lookBytes(size);
  const cells = new Map<number, Promise<void>>();
  const packed = new Map<number, Uint8Array>();
  const packedAt = (frame: number): Uint8Array | null => {
    const cell = packed.get(Math.floor(frame / CELL));
    const at = (((frame % CELL) + CELL) % CELL) * bytes;
    return cell && frame >= 0 && at < cell.length ? cell.subarray(at, at + bytes) : null;
  };
  async function readRun(first: number, last: number): Promise<void> {
    const from = first * CELL;
    const run = await read(from, Math.min(frameCount, (last + 1) * CELL));
    for (let cell = first; cell <= last; cell++) {
      const at = (cell - first) * CELL * bytes;
      packed.set(cell, run.slice(at, at + CELL * bytes));
    }
  }
  function begin(first: number, last: number): void {
    const run = readRun(first, last);
    // What failed is read again when it is needed again.
    run.catch(() => {
      for (let cell = first; cell <= last; cell++) cells.delete(cell);
    });
    for (let cell = first; cell <= last; cell++) cells.set(cell, run);
  }
  const unpackedBy = (unpack: (packed: Uint8Array, frame: number) => Look): Looks =>
    recent((frame) => {
      const look = packedAt(frame);
      return look && unpack(look, frame);
    });
  return {
    ...unpackedBy((look) => readLook(look, size)),
    shifted: (by) => unpackedBy((look, frame) => shiftLook(readLook(look, size), by(frame))),
    async load(frames) {
      const inside = frames.filter((frame) => frame >= 0 && frame < frameCount);
      const wanted = [...new Set(inside.map((frame) => Math.floor(frame / CELL)))].sort((a, b) => a - b);
      const missing = wanted.filter((cell) => !cells.has(cell));
      for (const { first, last } of runsOf(missing)) begin(first, last);
      await Promise.all(wanted.map((cell) => cells.get(cell)));
    },
  };
}

/** Keeps those that were asked for last. */
function recent(make: (frame: number) => Look | null): Looks {
  const kept = new LRUCache<number, Look>({ max: MOST_UNPACKED });
  return {
    at(frame) {
      const look = kept.get(frame) ?? make(frame);
      if (look) kept.set(frame, look);
      return look;
    },
  };
}

/** Numbers that follow each other, rising, as many as may be read at once. */
function runsOf(cells: readonly number[]): { first: number; last: number }[] {
  const runs: { first: number; last: number }[] = [];
  for (const cell of cells) {
    const run = runs.at(-1);
    if (run && cell === run.last + 1 && cell - run.first < MOST_READ / CELL) run.last = cell;
    else runs.push({ first: cell, last: cell });
  }
  return runs;
}
