import { WOVEN_LIMITS, type Woven } from '@muted-pond/core/loop';
import { SliderRow } from '../ui/SliderRow.js';
import { fromMovesSlider, toMovesSlider } from './moves-scale.js';

interface MovesSliderProps {
  readonly woven: Woven;
  readonly onChange: (liveliness: number) => void;
}

/** How much of a weave moves; the rest stands still, since it would jump. */
export function MovesSlider({ woven, onChange }: MovesSliderProps) {
  return (
    <SliderRow
      label="How much moves"
      unit=""
      decimals={0}
      value={toMovesSlider(woven.liveliness)}
      min={0}
      max={100}
      hint={`To the left, parts that would jump stand still; to the right they go on moving. ${Math.round(toMovesSlider(WOVEN_LIMITS.liveliness.usual))} suits most footage.`}
      onChange={(value) => onChange(fromMovesSlider(value))}
    />
  );
}
