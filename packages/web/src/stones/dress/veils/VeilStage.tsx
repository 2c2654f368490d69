import type { LoopReel } from '@muted-pond/core/loop';
import { useEffect, useMemo, useRef } from 'react';
import { useStore } from 'zustand';
import { PaintGround } from '../../../paint/PaintGround.js';
import type { WetPaint } from '../../../paint/use-painter.js';
import { usePieceLoop } from '../../../piece/piece-loop.js';
import { useWorkspace } from '../../../piece/workspace-context.js';
import { ComposedCanvas } from '../../../stage/ComposedCanvas.js';
import { composedPictures } from '../../../stage/reel-pictures.js';
import { type StageGround, StageRoom } from '../../../stage/StageRoom.js';
import stage from '../../../stage/stage.module.css';
import { useReelPlaying } from '../../../stage/use-reel-playing.js';
import { usePacedPlan, useStagePlan } from '../../../stage/use-stage-plan.js';
import { useDressView } from '../dress-view.js';
import classes from '../ground.module.css';
import { useVeilPainting } from './use-veil-painting.js';
import { VeilGround } from './VeilGround.js';

/** Where nothing is panned. */
const STILL = () => {};

/**
 * While it plays, the loop as it will be; while it stands still, the frame of the footage on the strip, so that a
 * veil can be laid on any of them.
 */
export function VeilStage({ children }: { children: React.ReactNode }) {
  const { session, composed } = useWorkspace();
  const { loop, problem } = usePieceLoop();
  const playing = useStore(session, (state) => state.playing);
  const playhead = useStore(session, (state) => state.playhead);
  const bare = useDressView((view) => view.bare);
  const single = playing ? null : playhead;
  const plan = usePacedPlan(useStagePlan({ unboxed: true, undressed: true, unveiled: bare, single }));
  const pictures = useMemo(
    () => (playing ? composedPictures(composed, plan) : null),
    [playing, composed, plan],
  );
  useReelPlaying(playing ? loop : null, 'all', pictures);
  useEffect(() => {
    session.getState().walkOn(playing ? 'reel' : 'take');
  }, [session, playing]);
  return (
    <StageRoom
      view="framed"
      problem={problem}
      picture={(ground) =>
        loop && <VeiledPicture loop={loop} plan={plan} isSingle={plan.single !== null} ground={ground} />
      }
    >
      {children}
    </StageRoom>
  );
}

interface VeiledPictureProps {
  readonly loop: LoopReel;
  readonly plan: ReturnType<typeof useStagePlan>;
  readonly isSingle: boolean;
  readonly ground: StageGround;
}

function VeiledPicture({ loop, plan, isSingle, ground }: VeiledPictureProps) {
  const { session } = useWorkspace();
  const { way, shown, onProblem } = ground;
  const playhead = useStore(session, (state) => state.playhead);
  const inReel = useStore(session, (state) => Math.min(state.place, loop.round - 1));
  const { paints, brush, chosen } = useDressView();
  const painting = useVeilPainting(way);
  const place = isSingle ? 0 : inReel;
  const pick = isSingle ? { source: playhead, delayCs: 4 } : loop.reel[place];
  return (
    <div className={stage.shown} style={shown} data-frame={playhead} data-chosen={chosen ?? undefined}>
      <ComposedCanvas
        plan={plan}
        place={place}
        meanwhile={{ way, pick }}
        label={`Frame ${playhead} of the footage, veiled`}
        onProblem={onProblem}
      />
      {painting.wet && <WetStroke wet={painting.wet} way={way} />}
      {paints ? (
        <PaintGround
          shown={shown}
          way={way}
          zoom={1}
          brush={brush}
          isPainting={painting.wet !== null}
          hands={painting.hands}
          onPan={STILL}
        />
      ) : (
        <VeilGround way={way} shown={shown} frame={playhead} />
      )}
    </div>
  );
}

/** The stroke while the hand is down. */
function WetStroke({ wet, way }: { wet: WetPaint; way: StageGround['way'] }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    const context = canvas.current?.getContext('2d');
    if (!context) return;
    const { part, takeSize } = way;
    const { canvas: paint } = wet;
    const [across, down] = [paint.width / takeSize.width, paint.height / takeSize.height];
    context.canvas.width = Math.round(part.width * across);
    context.canvas.height = Math.round(part.height * down);
    context.drawImage(paint, -part.x * across, -part.y * down);
  }, [wet, way]);
  return (
    <canvas
      ref={canvas}
      className={classes.wet}
      style={{ transform: `${way.mirror ? 'scaleX(-1) ' : ''}rotate(${way.turn}deg)` }}
    />
  );
}
