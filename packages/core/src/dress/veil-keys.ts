import type { Veil, VeilKey } from './veil.js';
import { veilAt } from './veil.js';

/** How far a place may be off a straight line between the keys that are kept, shares of the picture. */
const STRAIGHT = 0.0015;

/**
 * Keys without those that lie on the way between their neighbours; the first and the last stay.
 * Source: D. Douglas and T. Peucker, "Algorithms for the reduction of the number of points required to represent a
 * digitized line", Cartographica 10(2), 1973.
 */
export function thinKeys(keys: readonly VeilKey[]): VeilKey[] {
  if (keys.length <= 2) return [...keys];
  const kept = new Set([0, keys.length - 1]);
  const open: [number, number][] = [[0, keys.length - 1]];
  for (let part = open.pop(); part; part = open.pop()) {
    const [from, to] = part;
    let [worst, at] = [STRAIGHT, -1];
    for (let i = from + 1; i < to; i++) {
      const off = offLine(keys[from], keys[to], keys[i]);
      if (off > worst || keys[i].by === 'hand') [worst, at] = [keys[i].by === 'hand' ? 10 : off, i];
    }
    if (at < 0) continue;
    kept.add(at);
    open.push([from, at], [at, to]);
  }
  return keys.filter((_, i) => kept.has(i));
}

function offLine(one: VeilKey, other: VeilKey, key: VeilKey): number {
  const share = (key.frame - one.frame) / (other.frame - one.frame);
  return Math.max(
    ...(['x', 'y', 'width', 'height'] as const).map((name) =>
      Math.abs(key[name] - (one[name] + (other[name] - one[name]) * share)),
    ),
  );
}

/** The keys with one set by a hand; another one of that frame goes. */
export function withKey(keys: readonly VeilKey[], key: VeilKey): VeilKey[] {
  return [...keys.filter(({ frame }) => frame !== key.frame), key].sort(
    (one, other) => one.frame - other.frame,
  );
}

/** Without the key of a frame; the last one stays. */
export function withoutKey(keys: readonly VeilKey[], frame: number): VeilKey[] {
  const left = keys.filter((key) => key.frame !== frame);
  return left.length > 0 ? left : [...keys];
}

/**
 * The keys with a stretch that was followed: what following had set there before goes, what hands set stays.
 * @param followed at least one, rising by frame; the first or last is where it began.
 */
export function withFollowed(veil: Veil, followed: readonly VeilKey[], began: number): VeilKey[] {
  const [first, last] = [followed[0].frame, followed[followed.length - 1].frame];
  const here = veilAt({ ...veil, shown: true, span: null }, began);
  const kept = veil.keys.filter(({ frame, by }) => by === 'hand' || frame < first || frame > last);
  const hands = new Set(kept.map(({ frame }) => frame));
  const start = here && !hands.has(began) ? [{ ...rectOf(here), frame: began, by: 'hand' as const }] : [];
  const fresh = followed.filter(({ frame }) => frame !== began && !hands.has(frame));
  return thinKeys([...kept, ...start, ...fresh].sort((one, other) => one.frame - other.frame));
}

function rectOf({ x, y, width, height }: Pick<VeilKey, 'x' | 'y' | 'width' | 'height'>) {
  return { x, y, width, height };
}
