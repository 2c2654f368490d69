import { TextInput } from '@mantine/core';
import classes from './plain-page.module.css';

interface NameFieldProps {
  readonly label: string;
  readonly name: string;
  /** Letters. */
  readonly most: number;
  readonly onEnter: (name: string) => void;
}

/** A name in its place, which can be typed over; an empty one goes back to what it was. */
export function NameField({ label, name, most, onEnter }: NameFieldProps) {
  return (
    <TextInput
      key={name}
      variant="unstyled"
      aria-label={label}
      className={classes.name}
      maxLength={most}
      defaultValue={name}
      onBlur={(event) => {
        const typed = event.currentTarget.value.trim();
        if (typed && typed !== name) onEnter(typed);
        else event.currentTarget.value = name;
      }}
      onKeyDown={(event) => event.key === 'Enter' && event.currentTarget.blur()}
    />
  );
}
