import { Select } from '@mantine/core';
import type { TrialFigures, TrialView } from '@muted-pond/core/api';
import { framedSize } from '@muted-pond/core/recipe';
import { IconArrowsExchange } from '@tabler/icons-react';
import { useEffect, useMemo } from 'react';
import { useStore } from 'zustand';
import { useTrials } from '../../api/queries.js';
import type { StagePlan } from '../../pictures/composed-frames.js';
import { usePieceLoop } from '../../piece/piece-loop.js';
import { useTake } from '../../piece/piece-take.js';
import { useWorkspace } from '../../piece/workspace-context.js';
import { fillRoom } from '../../stage/fill-room.js';
import { composedPictures } from '../../stage/reel-pictures.js';
import { StageBar } from '../../stage/StageBar.js';
import { StageButton } from '../../stage/StageButton.js';
import { StageRoom } from '../../stage/StageRoom.js';
import stage from '../../stage/stage.module.css';
import { useReelPlaying } from '../../stage/use-reel-playing.js';
import { useStagePlan } from '../../stage/use-stage-plan.js';
import { useZoomKeys } from '../../stage/use-zoom-keys.js';
import { ZoomLevel } from '../../stage/ZoomLevel.js';
import { useZoomView } from '../../stage/zoom-view.js';
import { PlayControls } from '../../stone/footage-screen.js';
import { Making } from '../../trials/Making.js';
import { PlayingTrial } from '../../trials/PlayingTrial.js';
import { useTrialMaker, useTrialsView } from '../../trials/use-trials.js';
import { setWeighView, useWeighView } from '../../trials/weigh-view.js';
import { formatRate } from '../../ui/format.js';
import { StageChoice } from '../../ui/StageChoice.js';
import { ComparedPictures, useHeldKey } from './ComparedPictures.js';
import { isDrawnOut } from './file-notes.js';
import { StretchedFile } from './StretchedFile.js';
import classes from './weigh.module.css';

/** The finished file itself, playing, or beside what it is compared with; and how far the next one is. */
export function TrialStage() {
  const { pieceId, session } = useWorkspace();
  const view = useTrialsView();
  const { current, shown, trials, unmeasured } = view;
  const maker = useTrialMaker(view, useTrials(pieceId).isSuccess);
  const { compare, against, other, pointed, pace } = useWeighView();
  const { loop } = usePieceLoop();
  const zoomed = useZoomView((view) => view.zoom > 1);
  const plan = useStagePlan(shown?.figures ? { width: shown.figures.width } : {});
  useHeldKey();
  useZoomKeys();
  const making = current?.progress ? current : null;
  const problem = maker.problem ?? current?.problem ?? null;
  const besides = trials.find((trial) => trial.id === against && trial.state === 'done') ?? null;
  // The browser plays the file by itself; to stand beside something, or close, it is shown picture by
  // picture.
  const isCompared =
    shown?.figures != null &&
    loop !== null &&
    (compare !== 'alone' || other || zoomed || pointed !== null || shown.shownAs === 'list');
  const isStretched = pace === 'drawn-out' && shown?.figures != null && isDrawnOut(shown.figures);
  // By itself a file can be seen before it is measured.
  const early = isCompared || isStretched ? null : unmeasured;
  useEffect(() => {
    session.getState().walkOn('reel');
    return () => session.getState().walkOn('take');
  }, [session]);
  return (
    <StageRoom
      view="framed"
      picture={(ground) => {
        if (early) return <PlayingFile trial={early} />;
        if (!shown?.figures) return <FirstFile />;
        return isCompared && loop ? (
          <ComparedPictures ground={ground} loop={loop} plan={plan} shown={shown} against={besides} />
        ) : isStretched ? (
          <StretchedFile
            trial={shown}
            size={fillRoom(shown.figures, ground.room)}
            onProblem={ground.onProblem}
          />
        ) : (
          <PlayingFile trial={shown} />
        );
      }}
    >
      {isCompared && <ReelClock plan={plan} />}
      {problem && (
        <p className={stage.problem} role="alert">
          {problem}{' '}
          <button type="button" className={classes.again} onClick={maker.makeNow}>
            Make it again
          </button>
        </p>
      )}
      <LookTools trials={trials} shown={shown} />
      <StageBar
        left={
          shown?.figures && (
            <>
              {isCompared ? (
                <PlayControls what="both" />
              ) : (
                <strong>
                  {isStretched
                    ? 'the real file, short delays drawn out'
                    : shown === current || early
                      ? 'the real file, playing'
                      : `trial ${shown.letter}, until the next is made`}
                </strong>
              )}
              {!early && <span>{factsOf(shown.figures)}</span>}
            </>
          )
        }
        right={making && <Making trial={making} onCancel={() => maker.cancel(making.id)} />}
      />
    </StageRoom>
  );
}

/** Plays the reel's places while files are shown picture by picture. */
function ReelClock({ plan }: { plan: StagePlan }) {
  const { composed } = useWorkspace();
  const { loop } = usePieceLoop();
  const pictures = useMemo(() => composedPictures(composed, plan), [composed, plan]);
  useReelPlaying(loop, 'all', pictures);
  return null;
}

function FirstFile() {
  const { store } = useWorkspace();
  const { size } = useTake();
  const framed = framedSize(
    size,
    useStore(store, (state) => state.recipe.framing),
  );
  return (
    <div className={classes.waiting} style={{ aspectRatio: `${framed.width} / ${framed.height}` }}>
      The first file is being made.
    </div>
  );
}

function PlayingFile({ trial }: { trial: TrialView }) {
  const view = useWeighView((state) => state.view);
  const size = trial.figures ?? trial.progress?.file;
  if (!size) return null;
  const { width, height } = size;
  return (
    <PlayingTrial
      trial={trial}
      about={`The file of trial ${trial.letter}, playing`}
      className={view === 'fit' ? classes.fitted : classes.real}
      style={{ aspectRatio: `${width} / ${height}` }}
    />
  );
}

/** What stands below a file. */
function factsOf({ frames, durationMs, width, height, palette }: TrialFigures): string {
  return [
    ...(durationMs > 0 ? [`${formatRate(frames / (durationMs / 1000))} fps`] : []),
    `${width} × ${height}`,
    ...(palette.length > 0 ? [`${palette.length} colours`] : []),
  ].join(' · ');
}

function LookTools({ trials, shown }: { trials: readonly TrialView[]; shown: TrialView | null }) {
  const { view, compare, against, pace, other } = useWeighView();
  const others = trials.filter((trial) => trial.state === 'done' && trial.id !== shown?.id);
  return (
    <div className={stage.looks}>
      <StageChoice
        label="What is shown"
        value={compare}
        onChange={(value) => setWeighView({ compare: value })}
        choices={[
          ['alone', 'The file'],
          ['wipe', 'Wipe'],
          ['pair', 'Side by side'],
        ]}
      />
      {compare === 'alone' ? (
        <StageChoice
          label="How large it is shown"
          value={view}
          onChange={(value) => setWeighView({ view: value })}
          choices={[
            ['fit', 'Fill the stage'],
            ['real', 'Real pixels'],
          ]}
        />
      ) : (
        <Select
          size="xs"
          w={130}
          aria-label="Compared with"
          allowDeselect={false}
          value={others.some((trial) => trial.id === against) ? against : 'source'}
          onChange={(value) => value && setWeighView({ against: value })}
          data={[
            { value: 'source', label: 'the source' },
            ...others.map((trial) => ({
              value: trial.id,
              label: `trial ${trial.letter}${trial.name ? ` · ${trial.name}` : ''}`,
            })),
          ]}
        />
      )}
      {compare === 'alone' && shown?.figures && isDrawnOut(shown.figures) && (
        <StageChoice
          label="How fast it is played"
          value={pace}
          onChange={(value) => setWeighView({ pace: value })}
          choices={[
            ['own', 'As made'],
            ['drawn-out', 'Drawn out'],
          ]}
        />
      )}
      <StageButton
        icon={IconArrowsExchange}
        label="While held: what the file is compared with"
        keyName="C"
        pressed={other}
        onHold={(isHeld) => setWeighView({ other: isHeld })}
      />
      <ZoomLevel />
    </div>
  );
}
