import { Checkbox } from '@mantine/core';
import { h264Crf, MP4_LIMITS, type OddSides } from '@muted-pond/core/files';
import { BankSection } from '../../../ui/Bank.js';
import { ChoiceRow } from '../../../ui/ChoiceRow.js';
import { NumberEntry } from '../../../ui/NumberEntry.js';
import classes from '../weigh.module.css';
import { QualityFields } from './QualityFields.js';
import { RepeatField } from './RepeatField.js';
import { useKindSettings } from './use-kind-settings.js';

const ODD_LABELS: Record<OddSides, string> = { crop: 'Left out', pad: 'Doubled' };

/** What is offered first where a number of bytes is wanted. */
const FIRST_BYTES = 1_000_000;

export function Mp4Fields() {
  const [mp4, set] = useKindSettings('mp4');
  return (
    <>
      <BankSection title="Quality">
        {mp4.bytes === null && (
          <>
            <QualityFields settings={mp4} set={set} />
            <p className={classes.ownPace}>Constant rate factor {h264Crf(mp4.quality)}.</p>
          </>
        )}
        <Checkbox
          size="xs"
          label="A number of bytes instead, in two passes"
          checked={mp4.bytes !== null}
          onChange={(event) => set({ bytes: event.currentTarget.checked ? FIRST_BYTES : null })}
        />
        {mp4.bytes !== null && (
          <NumberEntry
            label="Bytes"
            suffix=" KB"
            value={mp4.bytes / 1000}
            min={MP4_LIMITS.bytes.min / 1000}
            max={MP4_LIMITS.bytes.max / 1000}
            onEnter={(kilobytes) => set({ bytes: Math.round(kilobytes * 1000) })}
          />
        )}
      </BankSection>
      <BankSection title="Movie">
        <RepeatField settings={mp4} set={set} />
        <ChoiceRow
          label="Odd sides"
          hint="Both sides of a movie are even: a last odd row or column is left out, or stands twice"
          names={ODD_LABELS}
          value={mp4.odd}
          onChange={(odd) => set({ odd })}
        />
      </BankSection>
    </>
  );
}
