import { NumberInput } from '@mantine/core';
import { useEffect, useState } from 'react';
import classes from './ui.module.css';

interface NumberEntryProps {
  readonly label: string;
  readonly value: number;
  readonly min?: number;
  readonly max: number;
  readonly decimals?: number;
  readonly suffix?: string;
  readonly onEnter: (value: number) => void;
}

/** An exact number; it counts on Enter or when it is left, and Escape takes it back. */
export function NumberEntry({ label, value, min = 0, max, decimals = 0, suffix, onEnter }: NumberEntryProps) {
  const rounded = Number(value.toFixed(decimals));
  const [typed, setTyped] = useState<number | string>(rounded);
  useEffect(() => setTyped(rounded), [rounded]);
  return (
    <NumberInput
      aria-label={label}
      classNames={{ input: classes.entry }}
      variant="unstyled"
      hideControls
      suffix={suffix}
      min={min}
      max={max}
      step={decimals > 0 ? 0.1 : 1}
      decimalScale={decimals}
      fixedDecimalScale
      value={typed}
      onChange={setTyped}
      onBlur={() => {
        // With a fixed number of decimals, the field gives what was typed as text.
        const value = typed === '' ? rounded : Number(typed);
        if (Number.isFinite(value) && value !== rounded) onEnter(Math.max(min, Math.min(max, value)));
        // What is not taken as it was typed shows again what holds.
        setTyped(rounded);
      }}
      onKeyDown={(event) => {
        if (event.key === 'Enter') event.currentTarget.blur();
        if (event.key === 'Escape') setTyped(rounded);
      }}
    />
  );
}
