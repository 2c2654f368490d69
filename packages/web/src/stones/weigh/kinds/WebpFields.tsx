import type { WebpWay } from '@muted-pond/core/files';
import { BankSection } from '../../../ui/Bank.js';
import { ChoiceRow } from '../../../ui/ChoiceRow.js';
import { QualityFields } from './QualityFields.js';
import { useKindSettings } from './use-kind-settings.js';

const WAY_LABELS: Record<WebpWay, string> = {
  lossy: 'With loss',
  mixed: 'Whichever is lighter',
  lossless: 'Without loss',
};

export function WebpFields() {
  const [webp, set] = useKindSettings('webp');
  return (
    <BankSection title="Quality">
      <ChoiceRow
        label="Pictures"
        hint="Without loss is for drawings; footage becomes heavy"
        names={WAY_LABELS}
        value={webp.way}
        onChange={(way) => set({ way })}
      />
      {webp.way !== 'lossless' && <QualityFields settings={webp} set={set} />}
    </BankSection>
  );
}
