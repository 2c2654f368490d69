import { ReelStrip } from '../../reel/ReelStrip.js';
import type { StoneScreen } from '../../stone/stone.js';
import { BankHead } from '../../ui/Bank.js';
import { HoldingSection } from './HoldingSection.js';
import { PlateSection } from './PlateSection.js';
import { RipplesSection } from './RipplesSection.js';
import { StillStage } from './StillStage.js';

export const screen: StoneScreen = { Stage: StillStage, Bank: StillBank, Lower: StillReel };

function StillBank() {
  return (
    <>
      <BankHead title="Still" about="Everything is held still except where you stir." />
      <PlateSection />
      <RipplesSection />
      <HoldingSection />
    </>
  );
}

function StillReel() {
  return <ReelStrip tools="the joint lies in the middle" editable={false} />;
}
