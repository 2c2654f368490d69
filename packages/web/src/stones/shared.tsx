import type { Size } from '@muted-pond/core/pixels';
import type { ReactNode } from 'react';
import { useStore } from 'zustand';
import { FootageStage } from '../stage/FootageStage.js';
import { Pill } from '../stage/Pill.js';
import { SPEEDS, type Speed } from '../store/session-store.js';
import { Strip } from '../strip/Strip.js';
import { formatClock } from '../ui/format.js';
import { Key } from '../ui/Key.js';
import { StageChoice } from '../ui/StageChoice.js';
import { useTake } from '../workspace/piece-take.js';
import { useWorkspace } from '../workspace/workspace-context.js';

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
      <Pill side="left">
        <PlayControls what="the span" />
        {note ?? (
          <>
            step <Key>←</Key> <Key>→</Key>
          </>
        )}
      </Pill>
      <Pill side="right">
        <FramePlace />
      </Pill>
    </FootageStage>
  );
}

/** Play, stop, and how fast for looking. */
export function PlayControls({ what }: { what: string }) {
  const { session } = useWorkspace();
  const playing = useStore(session, (state) => state.playing);
  const speed = useStore(session, (state) => state.speed);
  return (
    <>
      <button type="button" onClick={() => session.getState().setPlaying(!playing)}>
        {playing ? 'stop' : `play ${what}`}
      </button>
      <Key>Space</Key>
      <StageChoice
        label="Speed for looking"
        value={String(speed)}
        onChange={(value) => session.getState().setSpeed(Number(value) as Speed)}
        choices={SPEEDS.map((value) => [String(value), { 1: '1×', 0.5: '½', 0.25: '¼' }[value]])}
      />
    </>
  );
}

function FramePlace() {
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
