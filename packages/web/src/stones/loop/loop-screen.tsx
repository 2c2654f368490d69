import { SegmentedControl } from '@mantine/core';
import { ReelStrip } from '../../reel/ReelStrip.js';
import type { StoneScreen } from '../../stone/stone.js';
import { Strip } from '../../strip/Strip.js';
import { BankHead } from '../../ui/Bank.js';
import { Arcs } from './Arcs.js';
import { FramesBank } from './FramesBank.js';
import { JoinSection } from './JoinSection.js';
import { LoopStage } from './LoopStage.js';
import { setLoopView, useLoopView } from './loop-view.js';
import { PaceSection } from './PaceSection.js';
import { PlacesSection } from './PlacesSection.js';
import { SeamSection } from './SeamSection.js';

export const screen: StoneScreen = { Stage: LoopStage, Bank: LoopBank, Lower: LoopLower };

function LoopBank() {
  const tab = useLoopView((view) => view.tab);
  return (
    <>
      <BankHead
        title="Loop"
        about={tab === 'seam' ? 'Where the end meets the start.' : 'The reel, frame by frame.'}
      />
      {tab === 'seam' ? (
        <>
          <SeamSection />
          <JoinSection />
          <PlacesSection />
          <PaceSection />
        </>
      ) : (
        <FramesBank />
      )}
    </>
  );
}

function LoopLower() {
  const tab = useLoopView((view) => view.tab);
  return tab === 'seam' ? <Strip above={<Arcs />} tools={<Tabs />} /> : <ReelStrip tools={<Tabs />} />;
}

function Tabs() {
  const tab = useLoopView((view) => view.tab);
  return (
    <SegmentedControl
      size="xs"
      aria-label="What lies below"
      value={tab}
      onChange={(value) => setLoopView({ tab: value as 'seam' | 'frames' })}
      data={[
        { value: 'seam', label: 'Footage' },
        { value: 'frames', label: 'Reel' },
      ]}
    />
  );
}
