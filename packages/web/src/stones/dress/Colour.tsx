import { ColorInput } from '@mantine/core';
import classes from './dress.module.css';

interface ColourProps {
  readonly label: string;
  readonly value: string;
  readonly onChange: (colour: string) => void;
}

/** A colour by its picture or its number. */
export function Colour({ label, value, onChange }: ColourProps) {
  return (
    <ColorInput
      className={classes.colour}
      size="xs"
      aria-label={label}
      format="hex"
      value={value}
      swatches={['#ffffff', '#fbfcf9', '#16302e', '#000000', '#1f8a70', '#e0662f', '#d9a425', '#8b9a94']}
      swatchesPerRow={8}
      onChangeEnd={(colour) => /^#[0-9a-f]{6}$/i.test(colour) && onChange(colour.toLowerCase())}
    />
  );
}
