import { Slider } from '@mantine/core';
import { StageChoice } from '../../ui/StageChoice.js';
import classes from './still.module.css';
import { BRUSH_SIZES, setStillView, useStillView } from './still-view.js';

/** What ripples are made with. */
export function BrushTools() {
  const { tool, way, size, softness, strength } = useStillView();
  return (
    <>
      <StageChoice
        label="What ripples are made with"
        value={tool}
        onChange={(value) => setStillView({ tool: value })}
        choices={[
          ['brush', 'Brush'],
          ['outline', 'Outline'],
          ['pick', 'Pick'],
        ]}
      />
      {tool !== 'pick' && (
        <StageChoice
          label="What the brush does"
          keyName="X"
          value={way}
          onChange={(value) => setStillView({ way: value })}
          choices={[
            ['stir', 'Stir'],
            ['calm', 'Calm'],
          ]}
        />
      )}
      {tool === 'brush' && (
        <>
          <BrushSlider
            name="width"
            label="Width of the brush"
            value={size}
            {...BRUSH_SIZES}
            unit=" px"
            onChange={(value) => setStillView({ size: value })}
          />
          <BrushSlider
            name="soft"
            label="Softness of the brush's edge"
            value={Math.round(softness * 100)}
            min={0}
            max={100}
            unit=" %"
            onChange={(value) => setStillView({ softness: value / 100 })}
          />
          <BrushSlider
            name="strength"
            label="Strength of the brush"
            value={Math.round(strength * 100)}
            min={5}
            max={100}
            unit=" %"
            onChange={(value) => setStillView({ strength: value / 100 })}
          />
        </>
      )}
      {tool === 'outline' && <span>click sets points, the first closes; drag, double click bends, Del</span>}
      {tool === 'pick' && <span>tinted parts move; a click makes one a ripple</span>}
    </>
  );
}

interface BrushSliderProps {
  readonly name: string;
  readonly label: string;
  readonly value: number;
  readonly min: number;
  readonly max: number;
  readonly unit: string;
  readonly onChange: (value: number) => void;
}

function BrushSlider({ name, label, value, min, max, unit, onChange }: BrushSliderProps) {
  return (
    <span className={classes.brushSlider}>
      {name}
      <Slider
        size={3}
        thumbSize={13}
        label={null}
        thumbLabel={label}
        min={min}
        max={max}
        value={value}
        onChange={onChange}
      />
      <strong>
        {value}
        {unit}
      </strong>
    </span>
  );
}
