import { NumberInput, Slider } from '@mantine/core';
import { useEffect, useState } from 'react';
import classes from './ui.module.css';

interface SliderRowProps {
  readonly label: string;
  readonly unit: string;
  readonly value: number;
  readonly min: number;
  readonly max: number;
  readonly step?: number;
  /** Bounds of the typed number, where they are wider than the slider's. */
  readonly widest?: readonly [number, number];
  /** What the number means at its ends, for those who hear the page. */
  readonly hint?: string;
  readonly onChange: (value: number) => void;
}

/** A number by hand or by keys. The change counts when the hand lets go. */
export function SliderRow(props: SliderRowProps) {
  const { label, unit, value, min, max, step = 1, hint, onChange } = props;
  const [lowest, highest] = props.widest ?? [min, max];
  const [held, setHeld] = useState(value);
  useEffect(() => setHeld(value), [value]);
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
        onChange={setHeld}
        onChangeEnd={onChange}
      />
      <NumberInput
        aria-label={`${label}, ${unit.trim() || 'number'}`}
        classNames={{ input: classes.number }}
        variant="unstyled"
        hideControls
        suffix={unit}
        min={lowest}
        max={highest}
        step={step}
        clampBehavior="blur"
        value={held}
        onChange={(next) => typeof next === 'number' && setHeld(next)}
        onBlur={() => held !== value && onChange(Math.max(lowest, Math.min(highest, held)))}
        onKeyDown={(event) => {
          if (event.key === 'Enter') event.currentTarget.blur();
          if (event.key === 'Escape') setHeld(value);
        }}
      />
    </div>
  );
}
