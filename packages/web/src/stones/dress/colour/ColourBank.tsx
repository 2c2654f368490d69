import { Button } from '@mantine/core';
import { COLOUR_LIMITS, keepsColours, OWN_COLOURS } from '@muted-pond/core/colour';
import { BankSection } from '../../../ui/Bank.js';
import classes from '../dress.module.css';
import { withColour } from '../dress-edits.js';
import { LiveSlider } from '../LiveSlider.js';
import { useDressEdits, useShown } from '../use-dress.js';
import { LooksSection } from './LooksSection.js';
import { TableSection } from './TableSection.js';

const GRADES = [
  ['exposure', 'Exposure', ' stops', 0.05, 'Each stop doubles or halves the light'],
  ['contrast', 'Contrast', '', 1, 'Around a middle grey; black and white stay'],
  ['black', 'Black', ' %', 0.5, 'To the right darks become black, to the left black is lifted'],
  ['saturation', 'Saturation', '', 1, 'How strong colours are'],
  ['warmth', 'Warmth', '', 1, 'From blue to amber'],
  ['tint', 'Tint', '', 1, 'From green to magenta'],
] as const;

/** Looks first, since most people stop there; then what is set by hand; then a table of one's own. */
export function ColourBank() {
  const { change } = useDressEdits();
  const isOwn = useShown(({ dress }) => keepsColours(dress.colour));
  return (
    <>
      <LooksSection />
      <BankSection title="By hand">
        {GRADES.map(([name, label, unit, step, hint]) => (
          <LiveSlider
            key={name}
            label={label}
            unit={unit}
            value={(recipe) => recipe.dress.colour.grade[name]}
            bounds={COLOUR_LIMITS[name]}
            step={step}
            hint={hint}
            edit={(recipe, value) =>
              withColour(recipe, { grade: { ...recipe.dress.colour.grade, [name]: value } })
            }
          />
        ))}
        <LiveSlider
          label="Sharpness"
          unit=""
          value={(recipe) => recipe.dress.colour.sharpness}
          bounds={COLOUR_LIMITS.sharpness}
          hint="Of edges, after resizing"
          edit={(recipe, sharpness) => withColour(recipe, { sharpness })}
        />
      </BankSection>
      <TableSection />
      {!isOwn && (
        <Button
          className={classes.allBack}
          variant="subtle"
          size="compact-sm"
          onClick={() => change((recipe) => withColour(recipe, OWN_COLOURS))}
        >
          Back to the colours as filmed
        </Button>
      )}
    </>
  );
}
