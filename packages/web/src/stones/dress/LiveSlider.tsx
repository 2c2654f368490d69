import type { Recipe } from '@muted-pond/core/recipe';
import { SliderRow } from '../../ui/SliderRow.js';
import { useDress } from './use-dress.js';

interface LiveSliderProps {
  readonly label: string;
  readonly unit: string;
  readonly value: number;
  readonly bounds: { readonly min: number; readonly max: number };
  readonly step?: number;
  readonly hint?: string;
  readonly edit: (recipe: Recipe, value: number) => Recipe;
}

/** A number whose picture follows the hand. */
export function LiveSlider({ label, unit, value, bounds, step, hint, edit }: LiveSliderProps) {
  const { preview, keep } = useDress();
  return (
    <SliderRow
      label={label}
      unit={unit}
      value={value}
      {...bounds}
      step={step}
      hint={hint}
      onPreview={(next) => preview((recipe) => edit(recipe, next))}
      onChange={(next) => keep((recipe) => edit(recipe, next))}
    />
  );
}
