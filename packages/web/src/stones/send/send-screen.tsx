import { useTrials } from '../../api/queries.js';
import { useWorkspace } from '../../piece/workspace-context.js';
import { IdleVeils } from '../../stone/IdleVeils.js';
import type { StoneScreen } from '../../stone/stone.js';
import { useTrialMaker, useTrialsView } from '../../trials/use-trials.js';
import { BankHead } from '../../ui/Bank.js';
import { BesideSection } from './BesideSection.js';
import { BesideStage } from './BesideStage.js';
import { FilesSection } from './FilesSection.js';
import { KindsLedger } from './KindsLedger.js';
import { PageSection } from './PageSection.js';
import { PageStage } from './PageStage.js';
import { PlacesSection } from './PlacesSection.js';
import { useSendView } from './send-view.js';

export const screen: StoneScreen = { Stage: SendStage, Bank: SendBank, Lower: KindsLedger };

/** The page as it will be, or files side by side. What is not made yet is made now. */
function SendStage() {
  const { pieceId } = useWorkspace();
  const view = useTrialsView();
  const maker = useTrialMaker(view, useTrials(pieceId).isSuccess);
  const stage = useSendView((state) => state.stage);
  return stage === 'beside' ? <BesideStage /> : <PageStage view={view} maker={maker} />;
}

function SendBank() {
  return (
    <>
      <BankHead title="Send" about="The finished files, under their names, and the words for a page." />
      <IdleVeils />
      <FilesSection />
      <PlacesSection />
      <PageSection />
      <BesideSection />
    </>
  );
}
