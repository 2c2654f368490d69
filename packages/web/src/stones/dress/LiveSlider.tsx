import type { Recipe } from '@muted-pond/core/recipe';
import { SliderRow } from '../../ui/SliderRow.js';
import { useDressEdits, useShown } from './use-dress.js';

interface LiveSliderProps {
  readonly label: string;
  readonly unit: string;
  readonly value: (recipe: Recipe) => number;
  readonly bounds: { readonly min: number; readonly max: number };
  readonly step?: number;
  readonly hint?: string;
  readonly edit: (recipe: Recipe, value: number) => Recipe;
}

/** A number whose picture follows the hand; nothing else is drawn again meanwhile. */
export function LiveSlider({ label, unit, value, bounds, step, hint, edit }: LiveSliderProps) {
  const { preview, keep } = useDressEdits();
  return (
    <SliderRow
      label={label}
      unit={unit}
      value={useShown(value)}
      {...bounds}
      step={step}
      hint={hint}
      onPreview={(next) => preview((recipe) => edit(recipe, next))}
      onChange={(next) => keep((recipe) => edit(recipe, next))}
    />
  );
}
