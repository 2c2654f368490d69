import { Select } from '@mantine/core';
import classes from './ui.module.css';

interface ChoiceRowProps<Value extends string> {
  readonly label: string;
  readonly value: Value;
  /** What each value is called. */
  readonly names: Readonly<Record<Value, string>>;
  readonly hint?: string;
  readonly onChange: (value: Value) => void;
}

/** One of a few, in the rhythm of the sliders. */
export function ChoiceRow<Value extends string>({
  label,
  value,
  names,
  hint,
  onChange,
}: ChoiceRowProps<Value>) {
  return (
    <div className={`${classes.row} ${classes.choiceRow}`} title={hint}>
      <span className={classes.rowLabel}>{label}</span>
      <Select
        size="xs"
        aria-label={label}
        allowDeselect={false}
        data={Object.entries<string>(names).map(([one, name]) => ({ value: one, label: name }))}
        value={value}
        onChange={(next) => next && onChange(next as Value)}
      />
    </div>
  );
}
