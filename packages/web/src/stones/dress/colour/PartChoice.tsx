import { COLOUR_PARTS, type ColourPart } from '@muted-pond/core/colour';
import { ChoiceRow } from '../../../ui/ChoiceRow.js';
import { withColour } from '../dress-edits.js';
import { useDressEdits } from '../use-dress.js';

const PART_NAMES: Record<ColourPart, string> = {
  everywhere: 'the whole picture',
  held: 'only what is held',
  moving: 'only what moves',
};

/** Where look and table lie; only where something is held is there a difference. */
export function PartChoice({ part }: { part: ColourPart }) {
  const { change } = useDressEdits();
  return (
    <ChoiceRow
      label="Lies on"
      value={part}
      names={Object.fromEntries(COLOUR_PARTS.map((one) => [one, PART_NAMES[one]])) as typeof PART_NAMES}
      hint="The look and the table; what is set by hand lies on everything"
      onChange={(next) => change((recipe) => withColour(recipe, { part: next }))}
    />
  );
}
