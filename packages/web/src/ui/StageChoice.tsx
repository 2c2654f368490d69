import { SegmentedControl, Tooltip } from '@mantine/core';
import classes from './ui.module.css';

interface StageChoiceProps<Value extends string> {
  readonly label: string;
  /** The key that goes to the next one. */
  readonly keyName?: string;
  readonly value: Value;
  readonly choices: readonly (readonly [value: Value, label: string])[];
  readonly onChange: (value: Value) => void;
}

/** One of a few, on the dark of the stage. */
export function StageChoice<Value extends string>({
  label,
  keyName,
  value,
  choices,
  onChange,
}: StageChoiceProps<Value>) {
  return (
    <Tooltip label={keyName ? `${label} (${keyName})` : label} openDelay={500}>
      <SegmentedControl
        size="xs"
        withItemsBorders={false}
        className={classes.onStage}
        aria-label={label}
        aria-keyshortcuts={keyName}
        value={value}
        onChange={(next) => onChange(next as Value)}
        data={choices.map(([one, name]) => ({ value: one, label: name }))}
      />
    </Tooltip>
  );
}
