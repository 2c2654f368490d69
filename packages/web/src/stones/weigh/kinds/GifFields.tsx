import { Checkbox, SegmentedControl, Select } from '@mantine/core';
import { GIF_LIMITS, QUALITIES, type QualityName } from '@muted-pond/core/files';
import { type DitherName, hasOnePalette } from '@muted-pond/core/palette';
import { BankSection } from '../../../ui/Bank.js';
import { ChoiceRow } from '../../../ui/ChoiceRow.js';
import { SliderRow } from '../../../ui/SliderRow.js';
import { DITHER_LABELS, PALETTE_LABELS } from '../colour-labels.js';
import classes from '../weigh.module.css';
import { useKindSettings } from './use-kind-settings.js';

const QUALITY_LABELS: Record<QualityName, string> = {
  'near-lossless': 'Near lossless',
  balanced: 'Balanced',
  small: 'Small',
};

/** What only a GIF has to be told. */
export function GifFields() {
  const [gif, set] = useKindSettings('gif');
  const quality = (Object.keys(QUALITIES) as QualityName[]).find(
    (name) => QUALITIES[name].settle === gif.settle && QUALITIES[name].squeeze === gif.squeeze,
  );
  return (
    <>
      <BankSection title="Colours">
        <SliderRow
          label="Colours"
          unit=""
          value={gif.colors}
          min={GIF_LIMITS.colors.min}
          max={GIF_LIMITS.colors.max}
          onChange={(colors) => set({ colors })}
        />
        <ChoiceRow
          label="Palettes"
          hint="The first picture and what changes after it may have colours of their own"
          names={PALETTE_LABELS}
          value={gif.palette}
          onChange={(palette) => set({ palette })}
        />
        {gif.palette === 'auto' && hasOnePalette(gif.palette, gif.colors) && (
          <p className={classes.ownPace}>Few colours: one palette for the loop.</p>
        )}
      </BankSection>
      <BankSection title="Dither">
        <Select
          aria-label="Dither"
          size="sm"
          allowDeselect={false}
          data={Object.entries(DITHER_LABELS).map(([value, label]) => ({ value, label }))}
          value={gif.dither}
          onChange={(dither) => dither && set({ dither: dither as DitherName })}
        />
        {gif.dither !== 'none' && (
          <SliderRow
            label="Strength"
            unit=" %"
            value={gif.ditherStrength}
            min={0}
            max={100}
            onChange={(ditherStrength) => set({ ditherStrength })}
          />
        )}
      </BankSection>
      <BankSection title="Quality">
        <SegmentedControl
          fullWidth
          size="xs"
          aria-label="Quality"
          value={quality ?? ''}
          onChange={(name) => set(QUALITIES[name as QualityName])}
          data={(Object.keys(QUALITIES) as QualityName[]).map((value) => ({
            value,
            label: QUALITY_LABELS[value],
          }))}
        />
        <SliderRow
          label="Settle"
          unit=" levels"
          hint="How much a pixel must change before it is redrawn"
          value={gif.settle}
          min={0}
          max={24}
          step={0.5}
          onChange={(settle) => set({ settle })}
        />
        <SliderRow
          label="Squeeze"
          unit=" levels"
          hint="How far similar runs of pixels may be merged"
          value={gif.squeeze}
          min={0}
          max={24}
          step={0.5}
          onChange={(squeeze) => set({ squeeze })}
        />
        <Checkbox
          size="xs"
          mt={6}
          label="Interlaced: a slow line shows all of it early"
          checked={gif.interlaced}
          onChange={(event) => set({ interlaced: event.currentTarget.checked })}
        />
      </BankSection>
    </>
  );
}
