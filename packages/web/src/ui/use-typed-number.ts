import { type KeyboardEvent, useEffect, useState } from 'react';
import { type NumberBounds, readTyped } from './number-typed.js';

/** What a number field needs to be typed in. */
export interface TypedField {
  readonly value: number | string;
  /** Why what stands there is not taken; null when it is. */
  readonly problem: string | null;
  readonly onChange: (typed: number | string) => void;
  readonly onBlur: () => void;
  readonly onKeyDown: (event: KeyboardEvent<HTMLElement>) => void;
}

/**
 * A number counts on Enter or when its field is left, and Escape takes it back. What cannot be is said while
 * it is typed, and stays there to be mended; once the field is left, what holds is shown again.
 */
export function useTypedNumber(
  now: number,
  bounds: NumberBounds,
  onEnter: (value: number) => void,
): TypedField {
  const rounded = Number(now.toFixed(bounds.decimals));
  const [typed, setTyped] = useState<number | string>(rounded);
  useEffect(() => setTyped(rounded), [rounded]);
  const reading = readTyped(typed, rounded, bounds);
  return {
    value: typed,
    problem: reading.type === 'refused' ? reading.reason : null,
    onChange: setTyped,
    onBlur() {
      if (reading.type === 'taken') onEnter(reading.value);
      // What is not taken, or comes out otherwise, shows again what holds.
      setTyped(rounded);
    },
    onKeyDown(event) {
      if (event.key === 'Enter' && reading.type !== 'refused') (event.target as HTMLElement).blur();
      if (event.key === 'Escape') setTyped(rounded);
    },
  };
}
