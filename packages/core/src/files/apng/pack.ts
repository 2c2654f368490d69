import { filterRows, PNG_FILTERS } from '../../containers/index.js';
import type { DrawnFrame } from './draw.js';

/**
 * Packs bytes as zlib does (RFC 1950).
 * @param effort `quick` to learn which of several packs best, `best` for what is kept.
 */
export type Deflate = (bytes: Uint8Array, effort: 'quick' | 'best') => Promise<Uint8Array>;

/** Ways that came within this of the lightest are packed for good. */
const NEAR = 1.01;

interface Candidate {
  readonly rows: Uint8Array;
  readonly isLaidOver: boolean;
  readonly quick: number;
}

/** Every way of drawing and every filter is tried quickly; the best are packed for good. */
export async function packRows(
  { rect, whole, over }: DrawnFrame,
  bytesPerPixel: number,
  deflate: Deflate,
): Promise<{ readonly packed: Uint8Array; readonly isLaidOver: boolean }> {
  const ways = [{ raw: whole, isLaidOver: false }, ...(over ? [{ raw: over, isLaidOver: true }] : [])];
  const candidates: Candidate[] = [];
  for (const { raw, isLaidOver } of ways) {
    for (const filter of PNG_FILTERS) {
      const rows = filterRows(raw, rect.width * bytesPerPixel, bytesPerPixel, filter);
      const { length } = await deflate(rows, 'quick');
      candidates.push({ rows, isLaidOver, quick: length });
    }
  }
  const least = Math.min(...candidates.map(({ quick }) => quick));
  const near = candidates.filter(({ quick }) => quick <= least * NEAR);
  const kept = await Promise.all(
    near.map(async ({ rows, isLaidOver }) => ({ packed: await deflate(rows, 'best'), isLaidOver })),
  );
  return kept.reduce((one, other) => (other.packed.length < one.packed.length ? other : one));
}
