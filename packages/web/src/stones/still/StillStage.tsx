import { useHotkeys } from '@mantine/hooks';
import type { LoopReel } from '@muted-pond/core/loop';
import { IconGhost2 } from '@tabler/icons-react';
import { useEffect, useMemo, useRef } from 'react';
import { useStore } from 'zustand';
import { PaintGround } from '../../paint/PaintGround.js';
import type { StagePlan } from '../../pictures/composed-frames.js';
import { usePieceLoop } from '../../piece/piece-loop.js';
import { useWorkspace } from '../../piece/workspace-context.js';
import { PlayButton } from '../../stage/PlayButton.js';
import { composedPictures } from '../../stage/reel-pictures.js';
import { StageBar } from '../../stage/StageBar.js';
import { StageButton } from '../../stage/StageButton.js';
import { type StageGround, StageRoom } from '../../stage/StageRoom.js';
import stage from '../../stage/stage.module.css';
import { useReelPlaying } from '../../stage/use-reel-playing.js';
import { useStagePlan } from '../../stage/use-stage-plan.js';
import { useWheelZoom } from '../../stage/use-wheel-zoom.js';
import { useZoomKeys } from '../../stage/use-zoom-keys.js';
import { WipeLine } from '../../stage/WipeLine.js';
import { ZoomLevel } from '../../stage/ZoomLevel.js';
import { panBy, useZoomView, zoomTransform } from '../../stage/zoom-view.js';
import { shownRecipe } from '../../store/piece-store.js';
import { StageChoice } from '../../ui/StageChoice.js';
import { BrushTools } from './BrushTools.js';
import { OutlineGround } from './OutlineGround.js';
import { PickGround } from './PickGround.js';
import { StillCanvas } from './StillCanvas.js';
import { resizeBrush, setStillView, useStillView } from './still-view.js';
import { usePainting } from './use-painting.js';
import { useStillPreview, useWetLayers } from './use-preview.js';

/** The reel playing behind its mask, and paint on it. */
export function StillStage() {
  const { session, store } = useWorkspace();
  const { loop, problem } = usePieceLoop();
  const { composed } = useWorkspace();
  const plate = useStore(store, (state) => shownRecipe(state).still.plate);
  const asFilmed = useStillView((view) => view.asFilmed);
  const firstHeld = useStillView((view) => view.firstHeld);
  const shownPlate = useMemo(() => {
    const frame = asFilmed ? (plate?.frame ?? firstHeld) : plate ? null : firstHeld;
    return frame === null ? plate : ({ kind: 'frame', frame } as const);
  }, [asFilmed, plate, firstHeld]);
  const plan = useStagePlan({ unboxed: true, layers: true, undressed: true, plate: shownPlate });
  const pictures = useMemo(() => composedPictures(composed, plan), [composed, plan]);
  useReelPlaying(loop, 'all', pictures);
  const { look, ghost, way } = useStillView();
  useHotkeys([
    ['M', () => setStillView({ look: look === 'muted' ? 'plain' : 'muted' })],
    ['G', () => setStillView({ ghost: !ghost })],
    ['X', () => setStillView({ way: way === 'stir' ? 'calm' : 'stir' })],
    ['minus', () => resizeBrush(1 / 1.2)],
    ['=', () => resizeBrush(1.2)],
  ]);
  useZoomKeys();
  useEffect(() => {
    session.getState().walkOn('reel');
    // Paint goes on where it was left, or to the newest ripple; "Add" begins another.
    const { ripples } = store.getState().recipe.still;
    const { active } = useStillView.getState();
    if (!ripples.some((ripple) => ripple.id === active)) {
      setStillView({ active: ripples.at(-1)?.id ?? null });
    }
    return () => session.getState().walkOn('take');
  }, [session, store]);
  return (
    <StageRoom
      view="framed"
      problem={problem}
      picture={(ground) => loop && <PaintedPicture plan={plan} loop={loop} ground={ground} />}
    >
      <div className={stage.looks}>
        <StageChoice
          label="How the held picture is looked at"
          value={look}
          onChange={(value) => setStillView({ look: value })}
          choices={[
            ['muted', 'Muted'],
            ['plain', 'Plain'],
            ['split', 'Split'],
          ]}
        />
        <StageButton
          icon={IconGhost2}
          label="The plate as a ghost over the reel"
          keyName="G"
          pressed={ghost}
          onClick={() => setStillView({ ghost: !ghost })}
        />
        <ZoomLevel />
      </div>
      <StageBar
        left={
          <>
            <PlayButton what="the reel" />
            <BrushTools />
          </>
        }
        right={loop && <ReelCount loop={loop} />}
      />
    </StageRoom>
  );
}

function ReelCount({ loop }: { loop: LoopReel }) {
  const { session } = useWorkspace();
  const place = useStore(session, (state) => Math.min(state.place, loop.round - 1));
  return (
    <strong>
      {place + 1} / {loop.round}
    </strong>
  );
}

interface PaintedPictureProps {
  readonly plan: StagePlan;
  readonly loop: LoopReel;
  readonly ground: StageGround;
}

function PaintedPicture({ plan, loop, ground }: PaintedPictureProps) {
  const { store, session } = useWorkspace();
  const { way, shown, onProblem } = ground;
  const plate = useStore(store, (state) => shownRecipe(state).still.plate);
  const place = useStore(session, (state) => Math.min(state.place, loop.round - 1));
  const { look, splitAt, ghost, active, tool, ...brush } = useStillView();
  const view = useZoomView();
  const { zoom } = view;
  const preview = useStillPreview(active);
  const painting = usePainting(way);
  const box = useRef<HTMLDivElement>(null);
  useWheelZoom(box);
  const transform = zoomTransform(view, shown);
  const wet = useWetLayers(painting.wet, preview);
  return (
    <div ref={box} className={`${stage.shown} ${stage.zoomed}`} style={{ ...shown, transform }}>
      <StillCanvas
        plan={plan}
        way={way}
        pick={loop.reel[place]}
        place={place}
        wet={wet}
        muted={look === 'muted'}
        splitAt={look === 'split' ? splitAt : null}
        ghost={ghost}
        onProblem={onProblem}
      />
      {tool === 'brush' && (
        <PaintGround
          shown={shown}
          way={way}
          zoom={zoom}
          brush={brush}
          isPainting={painting.wet !== null}
          hands={painting.hands}
          onPan={panBy}
        />
      )}
      {tool === 'outline' && <OutlineGround shown={shown} way={way} zoom={zoom} />}
      {tool === 'pick' && <PickGround way={way} />}
      {look === 'split' && plate && (
        <WipeLine
          at={splitAt}
          onMove={(at) => setStillView({ splitAt: at })}
          left="As filmed"
          right="held"
          zoom={zoom}
        />
      )}
      {preview.problem && <p className={stage.problem}>{preview.problem}</p>}
    </div>
  );
}
