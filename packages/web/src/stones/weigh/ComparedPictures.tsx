import type { TrialView } from '@muted-pond/core/api';
import type { LoopReel } from '@muted-pond/core/loop';
import { useEffect, useRef } from 'react';
import { useStore } from 'zustand';
import type { StagePlan } from '../../pictures/composed-frames.js';
import { useWorkspace } from '../../piece/workspace-context.js';
import { ComposedCanvas } from '../../stage/ComposedCanvas.js';
import { fillRoom } from '../../stage/fill-room.js';
import type { StageGround } from '../../stage/StageRoom.js';
import stage from '../../stage/stage.module.css';
import { useWheelZoom } from '../../stage/use-wheel-zoom.js';
import { WipeLine } from '../../stage/WipeLine.js';
import { useZoomView, zoomTransform } from '../../stage/zoom-view.js';
import { TrialCanvas } from '../../trials/TrialCanvas.js';
import { setWeighView, useWeighView } from '../../trials/weigh-view.js';
import classes from './weigh.module.css';

/** Room between two pictures, px. */
const GAP = 14;

interface ComparedProps {
  readonly ground: StageGround;
  readonly loop: LoopReel;
  /** What the files are made from, in the size of the one that is shown. */
  readonly plan: StagePlan;
  readonly shown: TrialView;
  /** Another trial; null: what the files are made from. */
  readonly against: TrialView | null;
}

/**
 * The shown file and what it is compared with, at the same moment: under a wipe, side by side, or the other
 * one alone.
 */
export function ComparedPictures({ ground, loop, plan, shown, against }: ComparedProps) {
  const { session } = useWorkspace();
  const { compare, wipeAt, other, pointed } = useWeighView();
  const place = useStore(session, (state) => Math.min(state.place, loop.round - 1));
  const atCs = loop.reel.slice(0, place).reduce((sum, pick) => sum + pick.delayCs, 0);
  const view = useZoomView();
  const box = useRef<HTMLDivElement>(null);
  useWheelZoom(box);
  const { room, onProblem } = ground;
  const { width, height } = shown.figures ?? ground.shown;
  const half = { width: (room.width - GAP) / 2, height: room.height };
  const size = fillRoom({ width, height }, compare === 'pair' && !other ? half : room);
  const transform = zoomTransform(view, size);
  const left = against ? (
    <TrialCanvas trial={against} atCs={atCs} only={null} onProblem={onProblem} />
  ) : (
    <ComposedCanvas
      plan={plan}
      place={place}
      meanwhile={{ way: ground.way, pick: loop.reel[place] }}
      label="What the file is made from"
      onProblem={onProblem}
    />
  );
  const right = <TrialCanvas trial={shown} atCs={atCs} only={pointed} onProblem={onProblem} />;
  const leftName = against ? `trial ${against.letter}` : 'source';
  const rightName = `trial ${shown.letter}`;
  if (other || compare === 'alone') {
    return (
      <div ref={box} className={`${stage.shown} ${stage.zoomed}`} style={{ ...size, transform }}>
        {other ? left : right}
      </div>
    );
  }
  if (compare === 'pair') {
    return (
      <div ref={box} className={classes.pair}>
        {[
          { name: leftName, picture: left },
          { name: rightName, picture: right },
        ].map(({ name, picture }) => (
          <figure key={name} className={classes.paired} style={size}>
            <div className={stage.zoomed} style={{ ...size, transform }}>
              {picture}
            </div>
            <figcaption>{name}</figcaption>
          </figure>
        ))}
      </div>
    );
  }
  return (
    <div ref={box} className={`${stage.shown} ${stage.zoomed}`} style={{ ...size, transform }}>
      {left}
      <div className={classes.over} style={{ clipPath: `inset(0 0 0 ${wipeAt * 100}%)` }}>
        {right}
      </div>
      <WipeLine
        at={wipeAt}
        onMove={(at) => setWeighView({ wipeAt: at })}
        left={leftName}
        right={rightName}
        zoom={view.zoom}
      />
    </div>
  );
}

/** While C is held, the other picture is shown. */
export function useHeldKey(): void {
  useEffect(() => {
    const isIt = (event: KeyboardEvent) =>
      event.key.toLowerCase() === 'c' &&
      !event.ctrlKey &&
      !event.metaKey &&
      !(event.target instanceof Element && event.target.closest('input, textarea'));
    const down = (event: KeyboardEvent) => isIt(event) && setWeighView({ other: true });
    const up = (event: KeyboardEvent) => isIt(event) && setWeighView({ other: false });
    const letGo = () => setWeighView({ other: false });
    window.addEventListener('keydown', down);
    window.addEventListener('keyup', up);
    window.addEventListener('blur', letGo);
    return () => {
      window.removeEventListener('keydown', down);
      window.removeEventListener('keyup', up);
      window.removeEventListener('blur', letGo);
      letGo();
    };
  }, []);
}
