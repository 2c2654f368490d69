import { useStore } from 'zustand';
import { FootageStage } from '../stage/FootageStage.js';
import { Pill } from '../stage/Pill.js';
import { Strip } from '../strip/Strip.js';
import { formatClock } from '../ui/format.js';
import { Key } from '../ui/Key.js';
import { useWorkspace } from '../workspace/workspace-context.js';

/** The footage on the stage, with play, place and frame; for the stones that work on footage. */
export function FootageStageWithFigures() {
  const { footage, times, frames, session } = useWorkspace();
  const playing = useStore(session, (state) => state.playing);
  return (
    <FootageStage footage={footage} times={times} frames={frames}>
      <Pill side="left">
        <button type="button" onClick={() => session.getState().setPlaying(!playing)}>
          {playing ? 'stop' : 'play the span'}
        </button>
        <Key>Space</Key> step <Key>←</Key> <Key>→</Key>
      </Pill>
      <Pill side="right">
        <FramePlace />
      </Pill>
    </FootageStage>
  );
}

function FramePlace() {
  const { session, times, footage } = useWorkspace();
  const playhead = useStore(session, (state) => state.playhead);
  return (
    <>
      <strong>{formatClock(times.starts[playhead])}</strong>
      <span data-testid="frame-place">
        frame {playhead} of {footage.frameCount}
      </span>
    </>
  );
}

export function FootageStrip() {
  const { footage, times } = useWorkspace();
  return <Strip footage={footage} times={times} />;
}
