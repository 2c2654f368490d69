import { BankSection } from '../../../ui/Bank.js';
import { QualityFields } from './QualityFields.js';
import { RepeatField } from './RepeatField.js';
import { useKindSettings } from './use-kind-settings.js';

export function WebmFields() {
  const [webm, set] = useKindSettings('webm');
  return (
    <>
      <BankSection title="Quality">
        <QualityFields settings={webm} set={set} />
      </BankSection>
      <BankSection title="Movie">
        <RepeatField settings={webm} set={set} />
      </BankSection>
    </>
  );
}
