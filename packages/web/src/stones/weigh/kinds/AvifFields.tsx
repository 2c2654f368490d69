import { BankSection } from '../../../ui/Bank.js';
import { QualityFields } from './QualityFields.js';
import { useKindSettings } from './use-kind-settings.js';

export function AvifFields() {
  const [avif, set] = useKindSettings('avif');
  return (
    <BankSection title="Quality">
      <QualityFields settings={avif} set={set} />
    </BankSection>
  );
}
