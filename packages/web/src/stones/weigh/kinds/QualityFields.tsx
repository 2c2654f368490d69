import { ENCODED_LIMITS, type EncodedSettings } from '@muted-pond/core/files';
import { SliderRow } from '../../../ui/SliderRow.js';

interface QualityFieldsProps {
  readonly settings: EncodedSettings;
  readonly set: (part: Partial<EncodedSettings>) => void;
}

/** What all kinds have in common that are made by an encoder with a quality. */
export function QualityFields({ settings, set }: QualityFieldsProps) {
  return (
    <>
      <SliderRow
        label="Quality"
        unit=""
        hint="0 is the lightest file, 100 the best"
        value={settings.quality}
        {...ENCODED_LIMITS.quality}
        onChange={(quality) => set({ quality })}
      />
      <SliderRow
        label="Settle"
        unit=" levels"
        hint="How much a pixel must change before it changes in the file; grain is not written"
        value={settings.settle}
        {...ENCODED_LIMITS.settle}
        step={0.5}
        onChange={(settle) => set({ settle })}
      />
    </>
  );
}
