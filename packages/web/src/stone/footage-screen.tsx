import type { Size } from '@muted-pond/core/pixels';
import { IconChevronLeft, IconChevronRight } from '@tabler/icons-react';
import type { ReactNode } from 'react';
import { useStore } from 'zustand';
import { useTake } from '../piece/piece-take.js';
import { stepFrames } from '../piece/span-edits.js';
import { useWorkspace } from '../piece/workspace-context.js';
import { FootageStage } from '../stage/FootageStage.js';
import { PlayButton } from '../stage/PlayButton.js';
import { StageBar } from '../stage/StageBar.js';
import { StageButton } from '../stage/StageButton.js';
import { SPEEDS, type Speed } from '../store/session-store.js';
import { Strip } from '../strip/Strip.js';
import { formatClock } from '../ui/format.js';
import { StageChoice } from '../ui/StageChoice.js';

interface PlayingStageProps {
  readonly view?: 'whole' | 'framed';
  readonly over?: (picture: ReactNode, shown: Size) => ReactNode;
  /** Said beside playing, when there is something to say about the picture. */
  readonly note?: ReactNode;
}

/** The take on the stage, with play, speed, place and frame; for the stones that work on footage. */
export function PlayingStage({ view = 'framed', over, note }: PlayingStageProps) {
  return (
    <FootageStage view={view} over={over}>
      <StageBar
        left={
          <>
            <PlayControls what="the span" />
            {note && <span>{note}</span>}
          </>
        }
        right={<FramePlace />}
      />
    </FootageStage>
  );
}

/** Play, stop, one frame back or on, and how fast for looking. */
export function PlayControls({ what }: { what: string }) {
  const workspace = useWorkspace();
  const { session } = workspace;
  const speed = useStore(session, (state) => state.speed);
  return (
    <>
      <StageButton
        icon={IconChevronLeft}
        label="One frame back"
        keyName="←"
        onClick={() => stepFrames(workspace, -1)}
      />
      <PlayButton what={what} />
      <StageButton
        icon={IconChevronRight}
        label="One frame on"
        keyName="→"
        onClick={() => stepFrames(workspace, 1)}
      />
      <StageChoice
        label="Speed for looking"
        value={String(speed)}
        onChange={(value) => session.getState().setSpeed(Number(value) as Speed)}
        choices={SPEEDS.map((value) => [String(value), { 1: '1×', 0.5: '½', 0.25: '¼' }[value]])}
      />
    </>
  );
}

/** Which frame of the take is on the stage. */
export function FramePlace() {
  const { session } = useWorkspace();
  const take = useTake();
  const playhead = useStore(session, (state) => Math.min(state.playhead, take.frameCount - 1));
  return (
    <>
      <strong>{formatClock(take.times.starts[playhead])}</strong>
      <span data-testid="frame-place">
        frame {playhead} of {take.frameCount}
      </span>
    </>
  );
}

export function FootageStrip() {
  return <Strip />;
}
