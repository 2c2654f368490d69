import { NumberInput, Slider } from '@mantine/core';
import { useEffect, useState } from 'react';
import { TypedProblem } from './TypedProblem.js';
import classes from './ui.module.css';
import { useTypedNumber } from './use-typed-number.js';

interface SliderRowProps {
  readonly label: string;
  readonly unit: string;
  readonly value: number;
  readonly min: number;
  readonly max: number;
  readonly step?: number;
  /** Decimals that can be typed. */
  readonly decimals?: number;
  /** Bounds of the typed number, where they are wider than the slider's. */
  readonly widest?: readonly [number, number];
  /** What the number means at its ends, for those who hear the page. */
  readonly hint?: string;
  readonly onChange: (value: number) => void;
  /** While the pointer is down. */
  readonly onPreview?: (value: number) => void;
}

/** A number by hand or by keys. The change counts when the hand lets go; it may be shown before. */
export function SliderRow(props: SliderRowProps) {
  const { label, unit, value, min, max, step = 1, decimals = 3, hint, onChange, onPreview } = props;
  const [lowest, highest] = props.widest ?? [min, max];
  const [held, setHeld] = useState(value);
  useEffect(() => setHeld(value), [value]);
  const field = useTypedNumber(held, { min: lowest, max: highest, decimals, unit }, onChange);
  return (
    <div className={classes.row} title={hint}>
      <span className={classes.rowLabel}>{label}</span>
      <Slider
        className={classes.slider}
        size={4}
        thumbSize={18}
        label={null}
        thumbLabel={label}
        min={min}
        max={max}
        step={step}
        value={held}
        onChange={(next) => {
          setHeld(next);
          onPreview?.(next);
        }}
        onChangeEnd={onChange}
      />
      <TypedProblem sentence={field.problem}>
        <NumberInput
          aria-label={`${label}, ${unit.trim() || 'number'}`}
          classNames={{ input: classes.number }}
          variant="unstyled"
          hideControls
          suffix={unit}
          allowNegative={lowest < 0}
          clampBehavior="none"
          step={step}
          decimalScale={decimals}
          error={field.problem !== null}
          value={field.value}
          onChange={field.onChange}
          onBlur={field.onBlur}
          onKeyDown={field.onKeyDown}
        />
      </TypedProblem>
    </div>
  );
}
