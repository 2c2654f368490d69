import { SegmentedControl } from '@mantine/core';
import type { ComponentType } from 'react';
import { ReelStrip } from '../../reel/ReelStrip.js';
import type { StoneScreen } from '../../stone/stone.js';
import { BankHead } from '../../ui/Bank.js';
import { ColourBank } from './ColourBank.js';
import { DressStage } from './DressStage.js';
import classes from './dress.module.css';
import { type DressTab, setDressView, useDressView } from './dress-view.js';

export const screen: StoneScreen = { Stage: DressStage, Bank: DressBank, Lower: DressLower };

const TABS = {
  colour: { label: 'Colour', about: 'Watch it move while it changes.', Bank: ColourBank },
} satisfies Partial<Record<DressTab, { label: string; about: string; Bank: ComponentType }>>;

function DressBank() {
  const tab = useDressView((view) => view.tab);
  const { about, Bank } = TABS[tab as keyof typeof TABS];
  return (
    <>
      <BankHead title="Dress" about={about} />
      <SegmentedControl
        className={classes.tabs}
        fullWidth
        size="xs"
        aria-label="What is dressed"
        value={tab}
        onChange={(value) => setDressView({ tab: value as DressTab, chosen: null })}
        data={Object.entries(TABS).map(([value, { label }]) => ({ value, label }))}
      />
      <Bank />
    </>
  );
}

function DressLower() {
  return <ReelStrip editable={false} tools={null} />;
}
