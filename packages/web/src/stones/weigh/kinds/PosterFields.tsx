import { Button } from '@mantine/core';
import { ENCODED_LIMITS, type PosterFormat } from '@muted-pond/core/files';
import { useStore } from 'zustand';
import { useWorkspace } from '../../../piece/workspace-context.js';
import { BankSection } from '../../../ui/Bank.js';
import { ChoiceRow } from '../../../ui/ChoiceRow.js';
import { NumberEntry } from '../../../ui/NumberEntry.js';
import { SliderRow } from '../../../ui/SliderRow.js';
import { useKindSettings } from './use-kind-settings.js';

const FORMAT_LABELS: Record<PosterFormat, string> = { png: 'PNG', jpeg: 'JPEG', webp: 'WebP' };
const SHOWS = { plate: 'The plate', place: 'A frame' } as const;

/** One picture of the loop. */
export function PosterFields() {
  const { session } = useWorkspace();
  const [poster, set] = useKindSettings('poster');
  const shown = useStore(session, (state) => state.place);
  return (
    <BankSection title="Picture">
      <ChoiceRow
        label="Shows"
        hint="The plate is what is held; where nothing is, the first frame"
        names={SHOWS}
        value={poster.place === 'plate' ? 'plate' : 'place'}
        onChange={(what) => set({ place: what === 'plate' ? 'plate' : shown })}
      />
      {poster.place !== 'plate' && (
        <>
          <NumberEntry
            label="Frame"
            value={poster.place}
            min={0}
            max={100_000}
            onEnter={(place) => set({ place })}
          />
          <Button size="compact-sm" variant="default" onClick={() => set({ place: shown })}>
            Take the one that is shown
          </Button>
        </>
      )}
      <ChoiceRow
        label="Kind"
        names={FORMAT_LABELS}
        value={poster.format}
        onChange={(format) => set({ format })}
      />
      {poster.format !== 'png' && (
        <SliderRow
          label="Quality"
          unit=""
          value={poster.quality}
          {...ENCODED_LIMITS.quality}
          onChange={(quality) => set({ quality })}
        />
      )}
    </BankSection>
  );
}
