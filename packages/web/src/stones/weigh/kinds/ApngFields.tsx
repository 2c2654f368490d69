import { type ApngColours, GIF_LIMITS } from '@muted-pond/core/files';
import { BankSection } from '../../../ui/Bank.js';
import { ChoiceRow } from '../../../ui/ChoiceRow.js';
import { SliderRow } from '../../../ui/SliderRow.js';
import { DITHER_LABELS } from '../colour-labels.js';
import { useKindSettings } from './use-kind-settings.js';

const COLOUR_LABELS: Record<ApngColours, string> = { full: 'All', palette: 'A palette' };

export function ApngFields() {
  const [apng, set] = useKindSettings('apng');
  return (
    <BankSection title="Colours">
      <ChoiceRow
        label="Colours"
        names={COLOUR_LABELS}
        value={apng.colours}
        onChange={(colours) => set({ colours })}
      />
      {apng.colours === 'palette' && (
        <>
          <SliderRow
            label="How many"
            unit=""
            value={apng.colors}
            {...GIF_LIMITS.colors}
            onChange={(colors) => set({ colors })}
          />
          <ChoiceRow
            label="Dither"
            names={DITHER_LABELS}
            value={apng.dither}
            onChange={(dither) => set({ dither })}
          />
        </>
      )}
      <SliderRow
        label="Settle"
        unit=" levels"
        hint="How much a pixel must change before it is drawn again; at 0 every pixel is exact"
        value={apng.settle}
        min={0}
        max={24}
        step={0.5}
        onChange={(settle) => set({ settle })}
      />
    </BankSection>
  );
}
