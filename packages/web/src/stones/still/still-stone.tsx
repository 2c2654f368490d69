import { useStore } from 'zustand';
import { shownRecipe } from '../../store/piece-store.js';
import { BankHead } from '../../ui/Bank.js';
import { useWorkspace } from '../../workspace/workspace-context.js';
import { ReelStrip } from '../loop/ReelStrip.js';
import type { Stone } from '../stone.js';
import { HoldingSection } from './HoldingSection.js';
import { PlateSection } from './PlateSection.js';
import { RipplesSection } from './RipplesSection.js';
import { StillStage } from './StillStage.js';

export const stillStone: Stone = {
  id: 'still',
  name: 'Still',
  built: true,
  Value: StillValue,
  Stage: StillStage,
  Bank: StillBank,
  Lower: StillReel,
};

function StillValue() {
  const { store } = useWorkspace();
  const { plate, ripples } = useStore(store, (state) => shownRecipe(state).still);
  if (!plate) return 'all moves';
  const shown = ripples.filter((ripple) => ripple.shown).length;
  if (shown === 0) return 'all held';
  return shown === 1 ? '1 ripple' : `${shown} ripples`;
}

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
