import { Slider } from '@mantine/core';
import { useHotkeys } from '@mantine/hooks';
import { type LoopReel, seamVerdict } from '@muted-pond/core/loop';
import type { ReelFrame } from '@muted-pond/core/timing';
import type { Weave } from '@muted-pond/core/weave';
import { IconArrowsJoin2, IconSparkles } from '@tabler/icons-react';
import { type ReactNode, useEffect, useMemo } from 'react';
import { useStore } from 'zustand';
import type { StagePlan } from '../../pictures/composed-frames.js';
import { touchWoven } from '../../piece/loop-edits.js';
import { pieceLoop, usePieceLoop } from '../../piece/piece-loop.js';
import { type PieceTake, useTake } from '../../piece/piece-take.js';
import { useWorkspace } from '../../piece/workspace-context.js';
import { FALLEN_HERE, FAULT_HERE } from '../../seam/seam-words.js';
import { ComposedCanvas } from '../../stage/ComposedCanvas.js';
import type { Layer } from '../../stage/draw.js';
import { fillRoom } from '../../stage/fill-room.js';
import { overlaidParts } from '../../stage/overlaid-parts.js';
import { composedPictures, footagePictures } from '../../stage/reel-pictures.js';
import { SideBySide } from '../../stage/SideBySide.js';
import { StageBar } from '../../stage/StageBar.js';
import { StageButton } from '../../stage/StageButton.js';
import { type StageGround, StageRoom } from '../../stage/StageRoom.js';
import stage from '../../stage/stage.module.css';
import { TakeCanvas } from '../../stage/TakeCanvas.js';
import { useReelPlaying } from '../../stage/use-reel-playing.js';
import { useStagePlan } from '../../stage/use-stage-plan.js';
import { PlayControls } from '../../stone/footage-screen.js';
import { shownRecipe } from '../../store/piece-store.js';
import { formatClock } from '../../ui/format.js';
import { StageChoice } from '../../ui/StageChoice.js';
import { useMappedWeave } from '../../weave/use-weaving.js';
import classes from './loop.module.css';
import { AMPLIFICATIONS, LOOKS, type Look, setLoopView, toggleLook, useLoopView } from './loop-view.js';
import { SeamMap } from './SeamMap.js';
import { Slice, SliceLineOnPicture } from './SliceLook.js';
import { type SeamNow, useSeamNow } from './seam-now.js';
import { WeaveMap } from './WeaveMap.js';

const LOOK_LABELS: Record<Look, string> = {
  play: 'Reel',
  ends: 'Ends',
  ghost: 'Ghost',
  difference: 'Difference',
  slice: 'Slice',
  map: 'Map',
  where: 'Where',
  fallen: 'Left behind',
};

/** Looks in which the reel plays. */
const PLAYED: ReadonlySet<Look> = new Set(['play', 'map', 'where', 'fallen']);

/**
 * The reel as it will be, playing; or its last and first frame side by side, as a ghost, or as their
 * difference.
 */
export function LoopStage() {
  const { session } = useWorkspace();
  const take = useTake();
  const piece = usePieceLoop();
  const loop = useTriedLoop(take) ?? piece.loop;
  const { look: wanted, jointOnly } = useLoopView();
  const weave = useMappedWeave()?.weave ?? null;
  const seam = useSeenSeam();
  const fallen = useFallen();
  const isThere = (one: Look) =>
    (one !== 'map' || weave !== null) &&
    (one !== 'where' || seam !== null) &&
    (one !== 'fallen' || (wanted === 'fallen' && fallen !== null));
  const look = isThere(wanted) ? wanted : 'play';
  const isTried = loop !== null && loop !== piece.loop;
  const plan = useStagePlan({});
  const { composed, frames } = useWorkspace();
  const pictures = useMemo(
    () => (isTried ? footagePictures(frames, take, loop.reel) : composedPictures(composed, plan)),
    [isTried, frames, take, loop, composed, plan],
  );
  useReelPlaying(
    PLAYED.has(look) ? loop : null,
    jointOnly || look === 'where' || look === 'fallen' ? 'seam' : 'all',
    pictures,
  );
  useHotkeys([
    ['G', () => toggleLook('ghost')],
    ['D', () => toggleLook('difference')],
    ['L', () => setLoopView({ jointOnly: !jointOnly, look: 'play' })],
  ]);
  useEffect(() => {
    session.getState().walkOn('reel');
    return () => {
      session.getState().walkOn('take');
      setLoopView({ tried: null });
    };
  }, [session]);
  return (
    <StageRoom
      view="framed"
      problem={piece.problem}
      picture={(ground) =>
        loop && (
          <LoopPicture
            {...{ take, loop, look, ground }}
            weave={isTried ? null : weave}
            seam={isTried ? null : look === 'fallen' ? fallen : seam}
            plan={isTried ? null : plan}
          />
        )
      }
    >
      <StageBar
        left={
          <>
            {PLAYED.has(look) && <PlayControls what="the loop" />}
            <StageChoice
              label="How the joint is looked at"
              value={look}
              onChange={(value) => setLoopView({ look: value })}
              choices={LOOKS.filter(isThere).map((value) => [value, LOOK_LABELS[value]])}
            />
            <LookTools look={look} />
          </>
        }
        right={loop && <ReelPlace take={take} loop={loop} />}
      />
    </StageRoom>
  );
}

/** The joint as it is measured, where something is seen of it. */
function useSeenSeam(): SeamNow | null {
  const seam = useSeamNow();
  if (seam === null || typeof seam === 'string') return null;
  return seamVerdict(seam.score) === 'unnoticed' ? null : seam;
}

/** What cannot follow where the end flows into the start, as a map of its own. */
function useFallen(): SeamNow | null {
  const seam = useSeamNow();
  if (seam === null || typeof seam === 'string' || !seam.led || seam.led.lost === 0) return null;
  return { ...seam, map: seam.led.fallen };
}

/** The loop that a candidate under the pointer would make. */
function useTriedLoop(take: PieceTake): LoopReel | null {
  const { store } = useWorkspace();
  const tried = useLoopView((view) => view.tried);
  return useMemo(
    () => (tried ? pieceLoop({ ...shownRecipe(store.getState()), span: tried }, take).loop : null),
    [tried, take, store],
  );
}

function LookTools({ look }: { look: Look }): ReactNode {
  const { ghost, amplified, jointOnly } = useLoopView();
  switch (look) {
    case 'play':
      return (
        <StageButton
          icon={IconArrowsJoin2}
          label="Play only the joint"
          keyName="L"
          pressed={jointOnly}
          onClick={() => setLoopView({ jointOnly: !jointOnly })}
        />
      );
    case 'ghost':
      return (
        <>
          <Slider
            className={classes.ghost}
            size={4}
            thumbSize={16}
            label={null}
            thumbLabel="How much of the last frame is seen"
            min={0}
            max={100}
            value={Math.round(ghost * 100)}
            onChange={(value) => setLoopView({ ghost: value / 100 })}
          />
          {Math.round(ghost * 100)} %
        </>
      );
    case 'difference':
      return (
        <StageChoice
          label="How many times larger it is shown"
          value={String(amplified)}
          onChange={(value) => setLoopView({ amplified: Number(value) })}
          choices={AMPLIFICATIONS.map((times) => [String(times), `${times}×`])}
        />
      );
    case 'slice':
      return (
        <StageButton
          icon={IconSparkles}
          label="Propose a line where most moves"
          onClick={() => setLoopView({ line: null })}
        />
      );
    case 'map':
      return <span>click or paint: hold, set free</span>;
    case 'where':
    case 'fallen':
    case 'ends':
      return null;
  }
}

/** The part of the room that the picture takes, above its slice. */
const PICTURE_SHARE = 0.56;

function layersOf(pick: ReelFrame): Layer[] {
  return overlaidParts(pick).map(({ source, alpha }) => ({ frame: source, alpha }));
}

interface LoopPictureProps {
  readonly take: PieceTake;
  readonly loop: LoopReel;
  /** As the steps make it; null while another loop is only tried. */
  readonly plan: StagePlan | null;
  readonly weave: Weave | null;
  readonly seam: SeamNow | null;
  readonly look: Look;
  readonly ground: StageGround;
}

function LoopPicture({ take, loop, plan, weave, seam, look, ground }: LoopPictureProps) {
  const workspace = useWorkspace();
  const { session } = workspace;
  const { ghost, amplified } = useLoopView();
  const place = useStore(session, (state) => Math.min(state.place, loop.round - 1));
  const { way, room, shown, onProblem } = ground;
  const first = loop.reel[0];
  const last = loop.reel[loop.round - 1];
  if (look === 'ends') {
    const end = (title: string, pick: ReelFrame) => ({
      title,
      layers: layersOf(pick),
      words: `frame ${pick.source} · ${formatClock(take.times.starts[pick.source])}`,
      held: true,
    });
    return <SideBySide take={take} way={way} room={room} ends={[end('last', last), end('first', first)]} />;
  }
  if (look === 'slice' && plan) {
    const part = fillRoom(shown, { width: room.width, height: room.height * PICTURE_SHARE });
    return (
      <div className={classes.sliced}>
        <div className={stage.shown} style={part}>
          <ComposedCanvas
            plan={plan}
            place={place}
            meanwhile={{ way, pick: loop.reel[place] }}
            label={`Frame ${place + 1} of the reel`}
            onProblem={onProblem}
          />
          <SliceLineOnPicture />
        </div>
        <Slice plan={plan} round={loop.round} />
      </div>
    );
  }
  const laid: Record<'play' | 'ghost' | 'difference', () => { layers: Layer[]; label: string }> = {
    play: () => ({ layers: layersOf(loop.reel[place]), label: `Frame ${place + 1} of the reel` }),
    ghost: () => ({
      layers: [{ frame: first.source }, { frame: last.source, alpha: ghost }],
      label: 'The last frame as a ghost over the first',
    }),
    difference: () => ({
      layers: [{ frame: first.source }, { frame: last.source, mode: 'difference' }],
      label: 'What differs between the last frame and the first',
    }),
  };
  const { layers, label } = laid[look === 'ghost' || look === 'difference' ? look : 'play']();
  if (PLAYED.has(look) && plan) {
    const boxed = plan.recipe.framing.box;
    return (
      <div className={stage.shown} style={boxed ? fillRoom(boxed, room) : shown}>
        <ComposedCanvas
          plan={plan}
          place={place}
          meanwhile={{ way, pick: loop.reel[place] }}
          label={label}
          onProblem={onProblem}
        />
        {look === 'where' && seam && <SeamMap seam={seam} words={FAULT_HERE[seam.fault]} way={way} />}
        {look === 'fallen' && seam && <SeamMap seam={seam} words={FALLEN_HERE} way={way} />}
        {look === 'map' && weave && (
          <WeaveMap
            {...{ weave, way }}
            source={loop.reel[place].source}
            onTouch={(touch) => touchWoven(workspace, touch)}
          />
        )}
      </div>
    );
  }
  return (
    <div className={stage.shown} style={shown}>
      <TakeCanvas
        take={take}
        layers={layers}
        amplified={look === 'difference' ? amplified : 1}
        way={way}
        label={label}
        onProblem={onProblem}
      />
    </div>
  );
}

function ReelPlace({ take, loop }: { take: PieceTake; loop: LoopReel }) {
  const { session } = useWorkspace();
  const place = useStore(session, (state) => Math.min(state.place, loop.round - 1));
  const { source, toward, blend } = loop.reel[place];
  return (
    <>
      <strong data-testid="reel-place">
        {place + 1} of {loop.round}
      </strong>
      <span>
        frame {source}
        {toward && ` and ${Math.round(toward.moment * 100)} % of the way to ${toward.source}`}
        {blend && ` with ${Math.round(blend.share * 100)} % of ${blend.source}`} ·{' '}
        {formatClock(take.times.starts[source])}
      </span>
    </>
  );
}
