import { useElementSize } from '@mantine/hooks';
import type { Size } from '@muted-pond/core/pixels';
import { type ReactNode, useCallback, useMemo, useState } from 'react';
import { useStore } from 'zustand';
import { useTake } from '../piece/piece-take.js';
import { useWorkspace } from '../piece/workspace-context.js';
import { shownRecipe } from '../store/piece-store.js';
import { type DrawWay, drawnSize, drawWay } from './draw.js';
import { fillRoom } from './fill-room.js';
import classes from './stage.module.css';

/** What a picture on the stage is drawn with. */
export interface StageGround {
  readonly way: DrawWay;
  /** All the room there is. */
  readonly room: Size;
  /** The largest size in it of the picture's shape. */
  readonly shown: Size;
  readonly onProblem: (sentence: string | null) => void;
}

interface StageRoomProps {
  /** All of the picture, or only the part that will be seen. */
  readonly view: 'whole' | 'framed';
  readonly picture: (ground: StageGround) => ReactNode;
  /** Said instead of the picture's own problems. */
  readonly problem?: string | null;
  /** Pills and other things laid over the stage. */
  readonly children?: ReactNode;
}

/** The dark water that pictures lie on. */
export function StageRoom({ view, picture, problem: told = null, children }: StageRoomProps) {
  const { store } = useWorkspace();
  const take = useTake();
  const framing = useStore(store, (state) => shownRecipe(state).framing);
  const sources = useStore(store, (state) => shownRecipe(state).sources);
  const [problem, setProblem] = useState<string | null>(null);
  const { ref, width, height } = useElementSize<HTMLDivElement>();
  const way = useMemo(() => drawWay(take, { framing, sources }, view), [take, framing, sources, view]);
  const onProblem = useCallback((sentence: string | null) => setProblem(sentence), []);
  const room = { width, height };
  return (
    <div className={classes.stage} data-testid="stage">
      <div className={classes.room} ref={ref}>
        {width > 0 && picture({ way, room, shown: fillRoom(drawnSize(way), room), onProblem })}
      </div>
      {(told ?? problem) && (
        <p className={classes.problem} role="alert">
          {told ?? problem}
        </p>
      )}
      {children}
    </div>
  );
}
