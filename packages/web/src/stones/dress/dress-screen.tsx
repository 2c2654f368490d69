import { SegmentedControl } from '@mantine/core';
import type { ComponentType } from 'react';
import type { StoneScreen } from '../../stone/stone.js';
import { BankHead } from '../../ui/Bank.js';
import { CopySection } from './CopySection.js';
import { CaptionsBank } from './captions/CaptionsBank.js';
import { ColourBank } from './colour/ColourBank.js';
import { DressStage } from './DressStage.js';
import { DressStrip } from './DressStrip.js';
import classes from './dress.module.css';
import { type DressTab, setDressView, useDressView } from './dress-view.js';
import { EdgeBank } from './edge/EdgeBank.js';
import { VeilStrip } from './veils/VeilBars.js';
import { VeilsBank } from './veils/VeilsBank.js';

export const screen: StoneScreen = { Stage: DressStage, Bank: DressBank, Lower: DressLower };

const TABS = {
  colour: { label: 'Colour', about: 'Watch it move while it changes.', Bank: ColourBank },
  captions: {
    label: 'Captions',
    about: 'Type on the picture, drag, size by the corners.',
    Bank: CaptionsBank,
  },
  edge: { label: 'Edge', about: 'What runs along every frame, and what lies on it.', Bank: EdgeBank },
  veils: { label: 'Veils', about: 'What must not be recognised.', Bank: VeilsBank },
} satisfies Record<DressTab, { label: string; about: string; Bank: ComponentType }>;

function DressBank() {
  const tab = useDressView((view) => view.tab);
  const { about, Bank } = TABS[tab];
  return (
    <>
      <BankHead title="Dress" about={about} />
      <SegmentedControl
        className={classes.tabs}
        fullWidth
        size="xs"
        aria-label="What is dressed"
        value={tab}
        onChange={(value) => setDressView({ tab: value as DressTab, chosen: null, paints: false })}
        data={Object.entries(TABS).map(([value, { label }]) => ({ value, label }))}
      />
      <Bank />
      <CopySection />
    </>
  );
}

function DressLower() {
  const tab = useDressView((view) => view.tab);
  return tab === 'veils' ? <VeilStrip /> : <DressStrip />;
}
