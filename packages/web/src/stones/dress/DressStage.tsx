import { useHotkeys } from '@mantine/hooks';
import type { LoopReel } from '@muted-pond/core/loop';
import type { Size } from '@muted-pond/core/pixels';
import { IconEyeOff } from '@tabler/icons-react';
import equal from 'fast-deep-equal';
import { useCallback, useEffect, useMemo, useState } from 'react';
import { useStore } from 'zustand';
import { usePieceLoop } from '../../piece/piece-loop.js';
import { useWorkspace } from '../../piece/workspace-context.js';
import { ComposedCanvas } from '../../stage/ComposedCanvas.js';
import { fillRoom } from '../../stage/fill-room.js';
import { composedPictures } from '../../stage/reel-pictures.js';
import { StageBar } from '../../stage/StageBar.js';
import { StageButton } from '../../stage/StageButton.js';
import { type StageGround, StageRoom } from '../../stage/StageRoom.js';
import stage from '../../stage/stage.module.css';
import { useReelPlaying } from '../../stage/use-reel-playing.js';
import { usePacedPlan, useStagePlan } from '../../stage/use-stage-plan.js';
import { FramePlace, PlayControls } from '../../stone/footage-screen.js';
import type { LaidBlock } from '../../workers/compose-work.js';
import type { ComposedPictures } from '../../workers/composed-pictures.js';
import { useLookPictures } from './colour/use-look-pictures.js';
import { setDressView, showLooks, useDressView } from './dress-view.js';
import { OverlayGround } from './OverlayGround.js';
import { momentOf } from './reel-time.js';
import { VeilStage } from './veils/VeilStage.js';

/** The loop as it will be, playing while it is dressed; veils are laid on footage. */
export function DressStage() {
  const { session } = useWorkspace();
  const tab = useDressView((view) => view.tab);
  useHotkeys([['U', () => setDressView({ bare: !useDressView.getState().bare })]]);
  useEffect(
    () => () => {
      session.getState().walkOn('take');
      setDressView({ bare: false, chosen: null, typing: null, paints: false });
      showLooks(null);
    },
    [session],
  );
  return tab === 'veils' ? (
    <VeilStage>
      <Controls />
    </VeilStage>
  ) : (
    <LoopStage />
  );
}

function LoopStage() {
  const { session, composed } = useWorkspace();
  const { loop, problem } = usePieceLoop();
  const bare = useDressView((view) => view.bare);
  const plan = usePacedPlan(useStagePlan({ undressed: bare }));
  const pictures = useMemo(() => composedPictures(composed, plan), [composed, plan]);
  useReelPlaying(loop, 'all', pictures);
  useLookPictures(plan, loop);
  useEffect(() => session.getState().walkOn('reel'), [session]);
  return (
    <StageRoom
      view="framed"
      problem={problem}
      picture={(ground) => loop && <DressedPicture loop={loop} plan={plan} ground={ground} />}
    >
      <Controls />
    </StageRoom>
  );
}

function Controls() {
  const { session } = useWorkspace();
  const { loop } = usePieceLoop();
  const isPlaying = useStore(session, (state) => state.playing);
  const ofFootage = useDressView((view) => view.tab === 'veils') && !isPlaying;
  const bare = useDressView((view) => view.bare);
  return (
    <StageBar
      left={
        <>
          <PlayControls what="the loop" />
          <StageButton
            icon={IconEyeOff}
            label="As filmed, without its dress"
            keyName="U"
            pressed={bare}
            onClick={() => setDressView({ bare: !bare })}
          />
        </>
      }
      right={loop && (ofFootage ? <FramePlace /> : <ReelSeconds loop={loop} />)}
    />
  );
}

/** What lies over the picture on the canvas. */
interface Laid {
  readonly frame: Size;
  readonly blocks: readonly LaidBlock[];
}

interface DressedPictureProps {
  readonly loop: LoopReel;
  readonly plan: ReturnType<typeof useStagePlan>;
  readonly ground: StageGround;
}

function DressedPicture({ loop, plan, ground }: DressedPictureProps) {
  const { session } = useWorkspace();
  const place = useStore(session, (state) => Math.min(state.place, loop.round - 1));
  const { way, room, shown, onProblem } = ground;
  const laysOver = useDressView(({ tab, bare }) => (tab === 'captions' || tab === 'edge') && !bare);
  const boxed = plan.recipe.framing.box;
  const size = boxed ? fillRoom(boxed, room) : shown;
  const [laid, setLaid] = useState<Laid | null>(null);
  const onShown = useCallback(
    ({ frame, blocks }: ComposedPictures) =>
      setLaid((before) => {
        const next = { frame: { width: frame.width, height: frame.height }, blocks };
        return equal(before, next) ? before : next;
      }),
    [],
  );
  return (
    <div className={stage.shown} style={size}>
      <ComposedCanvas
        plan={plan}
        place={place}
        meanwhile={{ way, pick: loop.reel[place] }}
        label={`Frame ${place + 1} of the dressed reel`}
        onProblem={onProblem}
        onShown={onShown}
      />
      {laysOver && <OverlayGround shown={size} frame={laid?.frame ?? size} blocks={laid?.blocks ?? []} />}
    </div>
  );
}

function ReelSeconds({ loop }: { loop: LoopReel }) {
  const { session } = useWorkspace();
  const place = useStore(session, (state) => Math.min(state.place, loop.round - 1));
  const seconds = momentOf(loop.reel, place).beginsCs / 100;
  return (
    <>
      <strong data-testid="reel-place">
        {place + 1} of {loop.round}
      </strong>
      <span>{seconds.toFixed(2)} s</span>
    </>
  );
}
