/** What a number field takes. */
export interface NumberBounds {
  readonly min: number;
  readonly max: number;
  readonly decimals: number;
  /** Stands behind the number: “ s”. */
  readonly unit?: string;
}

/** A typed number is taken as it is, or refused with a sentence; never changed. */
export type TypedNumber =
  | { readonly type: 'taken'; readonly value: number }
  | { readonly type: 'same' }
  | { readonly type: 'refused'; readonly reason: string };

/**
 * @param typed the field's text or number.
 * @param now the number that holds, as the field shows it.
 */
export function readTyped(typed: string | number, now: number, bounds: NumberBounds): TypedNumber {
  const { min, max, decimals, unit = '' } = bounds;
  const text = String(typed).trim();
  if (text === '') return { type: 'same' };
  const value = Number(text);
  if (!Number.isFinite(value)) return { type: 'refused', reason: 'Give a number.' };
  if (value === now) return { type: 'same' };
  const shown = (bound: number) => `${Number(bound.toFixed(decimals))}${unit}`;
  // Bounds that are shown rounded are meant as they are shown.
  const slack = 0.5 * 10 ** -decimals;
  if (value < min - slack) return { type: 'refused', reason: `${shown(min)} is the least here.` };
  if (value > max + slack) return { type: 'refused', reason: `${shown(max)} is the most here.` };
  return { type: 'taken', value: Math.max(min, Math.min(max, value)) };
}
