import type { Size } from '@muted-pond/core/pixels';
import type { ReactNode } from 'react';
import { useStore } from 'zustand';
import { useTake } from '../piece/piece-take.js';
import { useWorkspace } from '../piece/workspace-context.js';
import { EndsOfSpan } from './EndsOfSpan.js';
import { StageRoom } from './StageRoom.js';
import classes from './stage.module.css';
import { TakeCanvas } from './TakeCanvas.js';
import { usePlaying } from './use-playing.js';

interface FootageStageProps {
  readonly view: 'whole' | 'framed';
  /** Wraps the picture in what lies on it: a crop, a hand to move it by. */
  readonly over?: (picture: ReactNode, shown: Size) => ReactNode;
  readonly children?: ReactNode;
}

/**
 * The take itself: a frame by index, the span looping, or both ends of the span while one of them is moved.
 */
export function FootageStage({ view, over, children }: FootageStageProps) {
  const { session } = useWorkspace();
  const take = useTake();
  const playhead = useStore(session, (state) => Math.min(state.playhead, take.frameCount - 1));
  const held = useStore(session, (state) => state.held);
  usePlaying(take);
  return (
    <StageRoom
      view={view}
      picture={({ way, room, shown, onProblem }) => {
        if (held) return <EndsOfSpan take={take} way={way} held={held} room={room} />;
        const picture = (
          <TakeCanvas
            take={take}
            layers={[{ frame: playhead }]}
            way={way}
            label={`Frame ${playhead} of ${take.name}`}
            onProblem={onProblem}
          />
        );
        return (
          <div className={classes.shown} style={shown}>
            {over ? over(picture, shown) : picture}
          </div>
        );
      }}
    >
      {children}
    </StageRoom>
  );
}
