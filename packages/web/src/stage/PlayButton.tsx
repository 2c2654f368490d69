import { IconPlayerPauseFilled, IconPlayerPlayFilled } from '@tabler/icons-react';
import { useStore } from 'zustand';
import { useWorkspace } from '../piece/workspace-context.js';
import { StageButton } from './StageButton.js';

/** @param what plays: “the span”. */
export function PlayButton({ what }: { what: string }) {
  const { session } = useWorkspace();
  const playing = useStore(session, (state) => state.playing);
  return (
    <StageButton
      primary
      icon={playing ? IconPlayerPauseFilled : IconPlayerPlayFilled}
      label={playing ? `Stop ${what}` : `Play ${what}`}
      keyName="Space"
      onClick={() => session.getState().setPlaying(!playing)}
    />
  );
}
