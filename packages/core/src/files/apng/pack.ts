import { filterRows, PNG_FILTERS, type PngFilter } from '../../containers/index.js';
import type { DrawnFrame } from './draw.js';

/**
 * Packs bytes as zlib does (RFC 1950).
 * @param effort `quick` to learn which of several packs best, `best` for what is kept.
 * @param isScattered whether the bytes are small numbers without many repeats, which some packers are told.
 */
export type Deflate = (
  bytes: Uint8Array,
  effort: 'quick' | 'best',
  isScattered: boolean,
) => Promise<Uint8Array>;

/** Filters after which hardly any run of bytes comes again. */
const SCATTERING: readonly PngFilter[] = ['up', 'average', 'paeth', 'adaptive'];

/** Frames from one that tries every filter to the next: neighbours are alike. */
const TRIED_EVERY = 8;
/** Ways of drawing that came within this of the lightest are packed for good. */
const NEAR = 1.02;

interface Packed {
  readonly packed: Uint8Array;
  readonly isLaidOver: boolean;
}

/** Packs frame after frame. */
export interface RowPacker {
  /**
   * Chooses how a frame is drawn and filtered; frames must be chosen for one after the other, since each goes by
   * those before it.
   * @returns what packs it for good, which may go on while others are chosen for.
   */
  choose(frame: DrawnFrame): Promise<() => Promise<Packed>>;
}

/**
 * Both ways of drawing are tried with every filter now and then, and with those that were best then in
 * between; what packs best quickly is packed for good.
 */
export function createRowPacker(bytesPerPixel: number, deflate: Deflate): RowPacker {
  let frames = 0;
  /** The best filter of each way of drawing, as it was found last. */
  const best = new Map<boolean, PngFilter>();
  return {
    async choose({ rect, whole, over }) {
      const isTrial = frames++ % TRIED_EVERY === 0;
      const ways = [{ raw: whole, isLaidOver: false }, ...(over ? [{ raw: over, isLaidOver: true }] : [])];
      const candidates = await Promise.all(
        ways.map(async ({ raw, isLaidOver }) => {
          const known = best.get(isLaidOver);
          const filters = isTrial || !known ? PNG_FILTERS : [known];
          const tried = await Promise.all(
            filters.map(async (filter) => {
              const rows = filterRows(raw, rect.width * bytesPerPixel, bytesPerPixel, filter);
              return {
                filter,
                rows,
                isLaidOver,
                bytes: (await deflate(rows, 'quick', SCATTERING.includes(filter))).length,
              };
            }),
          );
          const lightest = tried.reduce((one, other) => (other.bytes < one.bytes ? other : one));
          best.set(isLaidOver, lightest.filter);
          return lightest;
        }),
      );
      const least = Math.min(...candidates.map(({ bytes }) => bytes));
      const near = candidates.filter(({ bytes }) => bytes <= least * NEAR);
      return async () => {
        const kept = await Promise.all(
          near.map(async ({ rows, filter, isLaidOver }) => ({
            packed: await deflate(rows, 'best', SCATTERING.includes(filter)),
            isLaidOver,
          })),
        );
        return kept.reduce((one, other) => (other.packed.length < one.packed.length ? other : one));
      };
    },
  };
}
