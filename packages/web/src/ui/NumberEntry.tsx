import { NumberInput } from '@mantine/core';
import { TypedProblem } from './TypedProblem.js';
import classes from './ui.module.css';
import { useTypedNumber } from './use-typed-number.js';

interface NumberEntryProps {
  readonly label: string;
  readonly value: number;
  readonly min?: number;
  readonly max: number;
  readonly decimals?: number;
  readonly suffix?: string;
  readonly onEnter: (value: number) => void;
}

/** An exact number. What cannot be is said at once, and nothing is moved to what can. */
export function NumberEntry({ label, value, min = 0, max, decimals = 0, suffix, onEnter }: NumberEntryProps) {
  const field = useTypedNumber(value, { min, max, decimals, unit: suffix }, onEnter);
  return (
    <TypedProblem sentence={field.problem}>
      <NumberInput
        aria-label={label}
        classNames={{ input: classes.entry }}
        variant="unstyled"
        hideControls
        suffix={suffix}
        allowNegative={false}
        clampBehavior="none"
        step={decimals > 0 ? 0.1 : 1}
        decimalScale={decimals}
        fixedDecimalScale
        error={field.problem !== null}
        value={field.value}
        onChange={field.onChange}
        onBlur={field.onBlur}
        onKeyDown={field.onKeyDown}
      />
    </TypedProblem>
  );
}
