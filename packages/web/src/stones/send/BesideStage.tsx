import type { TrialView } from '@muted-pond/core/api';
import type { Size } from '@muted-pond/core/pixels';
import { useMemo } from 'react';
import { useStore } from 'zustand';
import { usePieceLoop } from '../../piece/piece-loop.js';
import { useWorkspace } from '../../piece/workspace-context.js';
import { fillRoom } from '../../stage/fill-room.js';
import { composedPictures } from '../../stage/reel-pictures.js';
import { StageBar } from '../../stage/StageBar.js';
import { StageRoom } from '../../stage/StageRoom.js';
import { useReelPlaying } from '../../stage/use-reel-playing.js';
import { useStagePlan } from '../../stage/use-stage-plan.js';
import { PlayControls } from '../../stone/footage-screen.js';
import { TrialCanvas } from '../../trials/TrialCanvas.js';
import { linesOf, titleOf, useBesideTrials } from './BesideSection.js';
import classes from './send.module.css';

/** Room between pictures and for the words below them, px. */
const GAP = 18;
const WORDS = 92;

/** The chosen files at the same moment, playing in step. */
export function BesideStage() {
  const { session } = useWorkspace();
  const trials = useBesideTrials();
  const { loop } = usePieceLoop();
  const place = useStore(session, (state) => Math.min(state.place, (loop?.round ?? 1) - 1));
  const atCs = (loop?.reel ?? []).slice(0, place).reduce((sum, pick) => sum + pick.delayCs, 0);
  return (
    <StageRoom
      view="framed"
      picture={({ room, onProblem }) => (
        <div className={classes.beside}>
          {trials.map((trial) => {
            const size = fillRoom(trial.figures ?? room, cellOf(trials, room));
            return (
              <figure key={trial.id} style={{ width: size.width }}>
                <div style={size}>
                  <TrialCanvas trial={trial} atCs={atCs} only={null} onProblem={onProblem} />
                </div>
                <figcaption>
                  <strong>{titleOf(trial)}</strong>
                  {linesOf(trial)
                    .slice(1)
                    .map((line) => (
                      <span key={line}>{line}</span>
                    ))}
                </figcaption>
              </figure>
            );
          })}
        </div>
      )}
    >
      <Clock />
      <StageBar left={<PlayControls what="them all" />} />
    </StageRoom>
  );
}

/** Room for each of some pictures: in as many columns as show them largest. */
function cellOf(trials: readonly TrialView[], room: Size): Size {
  const cells = trials.map((_, before) => {
    const columns = before + 1;
    const rows = Math.ceil(trials.length / columns);
    return {
      width: (room.width - GAP * (columns - 1)) / columns,
      height: (room.height - GAP * (rows - 1)) / rows - WORDS,
    };
  });
  const widthIn = (cell: Size) => (cell.height > 0 ? fillRoom(trials[0].figures ?? room, cell).width : 0);
  return cells.reduce((best, cell) => (widthIn(cell) > widthIn(best) ? cell : best));
}

/** Plays the reel's places. */
function Clock() {
  const { composed } = useWorkspace();
  const { loop } = usePieceLoop();
  const plan = useStagePlan({});
  const pictures = useMemo(() => composedPictures(composed, plan), [composed, plan]);
  useReelPlaying(loop, 'all', pictures);
  return null;
}
