import { SegmentedControl } from '@mantine/core';
import { useStore } from 'zustand';
import { Strip } from '../../strip/Strip.js';
import { BankHead } from '../../ui/Bank.js';
import { formatSeconds } from '../../ui/format.js';
import { usePieceLoop } from '../../workspace/piece-loop.js';
import { useWorkspace } from '../../workspace/workspace-context.js';
import type { Stone } from '../stone.js';
import { Arcs } from './Arcs.js';
import { FramesBank } from './FramesBank.js';
import { JoinSection } from './JoinSection.js';
import { LoopStage } from './LoopStage.js';
import { setLoopView, useLoopView } from './loop-view.js';
import { PaceSection } from './PaceSection.js';
import { PlacesSection } from './PlacesSection.js';
import { ReelStrip } from './ReelStrip.js';
import { SeamSection } from './SeamSection.js';

export const loopStone: Stone = {
  id: 'loop',
  name: 'Loop',
  built: true,
  Value: LoopValue,
  Stage: LoopStage,
  Bank: LoopBank,
  Lower: LoopLower,
};

/** The seam's score; for what has none, how long a round is. */
function LoopValue() {
  const { seams } = useWorkspace();
  const score = useStore(seams, (state) => state.answer?.seam?.score);
  const { loop } = usePieceLoop();
  if (score !== undefined) return `seam ${Math.round(score)}`;
  if (!loop) return 'no reel';
  const cs = loop.reel.slice(0, loop.round).reduce((sum, pick) => sum + pick.delayCs, 0);
  return formatSeconds(cs / 100);
}

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
