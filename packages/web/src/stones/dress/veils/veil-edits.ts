import {
  type ShareRect,
  VEIL_LIMITS,
  type Veil,
  type VeilKey,
  type VeilShape,
  veilAt,
  withKey,
} from '@muted-pond/core/dress';
import type { Size } from '@muted-pond/core/pixels';
import type { Mask } from '@muted-pond/core/still';

const NAMES: Record<VeilShape, string> = {
  rectangle: 'Veil',
  ellipse: 'Round veil',
  painted: 'Painted veil',
};

/** A veil to begin with, lying on all frames. */
export function newVeil(
  id: string,
  shape: VeilShape,
  at: ShareRect,
  frame: number,
  mask: string | null,
): Veil {
  return {
    ...{ id, name: NAMES[shape], shape, mask, effect: 'blocks', strength: 50, colour: '#16302e' },
    ...{
      feather: shape === 'painted' ? 0 : 8,
      keys: [{ ...at, frame, by: 'hand' }],
      span: null,
      shown: true,
    },
  };
}

/** A square in the middle of the part that is seen. */
export function middleOf(part: ShareRect, take: Size): ShareRect {
  const side = Math.min(part.width * take.width, part.height * take.height) * 0.3;
  const [width, height] = [side / take.width, side / take.height];
  return {
    x: part.x + (part.width - width) / 2,
    y: part.y + (part.height - height) / 2,
    width,
    height,
  };
}

/** The veil with its place at a frame set by a hand. */
export function placedAt(veil: Veil, frame: number, rect: ShareRect): Partial<Veil> {
  return { keys: withKey(veil.keys, { ...within(rect), frame, by: 'hand' }) };
}

function within({ x, y, width, height }: ShareRect): ShareRect {
  const { place, side } = VEIL_LIMITS;
  const clamp = (value: number, { min, max }: { min: number; max: number }) =>
    Math.max(min, Math.min(max, value));
  return { x: clamp(x, place), y: clamp(y, place), width: clamp(width, side), height: clamp(height, side) };
}

/** Where a veil would lie at a frame if it lay on all of them. */
export function rectAt(veil: Veil, frame: number): ShareRect {
  return veilAt({ ...veil, shown: true, span: null }, frame) as ShareRect;
}

/** What was painted, in shares of the picture; null where nothing was. */
export function boundsOf({ width, height, values }: Mask): ShareRect | null {
  let [left, top, right, bottom] = [width, height, -1, -1];
  for (let y = 0, p = 0; y < height; y++) {
    for (let x = 0; x < width; x++, p++) {
      if (values[p] === 0) continue;
      if (x < left) left = x;
      if (x > right) right = x;
      if (y < top) top = y;
      bottom = y;
    }
  }
  if (right < 0) return null;
  return {
    x: left / width,
    y: top / height,
    width: Math.max(VEIL_LIMITS.side.min, (right - left + 1) / width),
    height: Math.max(VEIL_LIMITS.side.min, (bottom - top + 1) / height),
  };
}

/** Keys when what was painted reaches elsewhere than before: all of them stretch alike. */
export function rebased(keys: readonly VeilKey[], bounds: ShareRect): VeilKey[] {
  const [first] = keys;
  return keys.map((key) => ({
    ...key,
    x: key.x + ((bounds.x - first.x) / first.width) * key.width,
    y: key.y + ((bounds.y - first.y) / first.height) * key.height,
    width: (bounds.width / first.width) * key.width,
    height: (bounds.height / first.height) * key.height,
  }));
}
