import { SegmentedControl, Slider } from '@mantine/core';
import { useHotkeys } from '@mantine/hooks';
import type { LoopReel } from '@muted-pond/core/loop';
import { turnedSize } from '@muted-pond/core/pixels';
import { useEffect, useRef, useState } from 'react';
import { useStore } from 'zustand';
import { Pill } from '../../stage/Pill.js';
import { type StageGround, StageRoom } from '../../stage/StageRoom.js';
import stage from '../../stage/stage.module.css';
import { useReelPlaying } from '../../stage/use-reel-playing.js';
import { shownRecipe } from '../../store/piece-store.js';
import { Key } from '../../ui/Key.js';
import { usePieceLoop } from '../../workspace/piece-loop.js';
import { type PieceTake, useTake } from '../../workspace/piece-take.js';
import { useWorkspace } from '../../workspace/workspace-context.js';
import onStage from '../shared.module.css';
import { OutlineGround } from './OutlineGround.js';
import { StillCanvas } from './StillCanvas.js';
import classes from './still.module.css';
import { BRUSH_SIZES, panBy, resizeBrush, setStillView, useStillView, zoomAt } from './still-view.js';
import { usePainting } from './use-painting.js';
import { useStillPreview } from './use-preview.js';

/** The reel playing behind its mask, and paint on it. */
export function StillStage() {
  const { session, store } = useWorkspace();
  const take = useTake();
  const { loop, problem } = usePieceLoop();
  useReelPlaying(take, loop, 'all');
  const { muted, ghost, way, zoom } = useStillView();
  const playing = useStore(session, (state) => state.playing);
  useHotkeys([
    ['M', () => setStillView({ muted: !muted })],
    ['G', () => setStillView({ ghost: !ghost })],
    ['X', () => setStillView({ way: way === 'stir' ? 'calm' : 'stir' })],
    ['minus', () => resizeBrush(1 / 1.2)],
    ['=', () => resizeBrush(1.2)],
    ['Home', () => setStillView({ zoom: 1, panX: 0, panY: 0 })],
  ]);
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
      picture={(ground) => loop && <PaintedPicture take={take} loop={loop} ground={ground} />}
    >
      <Pill side="left">
        <button type="button" onClick={() => session.getState().setPlaying(!playing)}>
          {playing ? 'stop' : 'play'}
        </button>
        <BrushTools />
        <button type="button" aria-pressed={muted} onClick={() => setStillView({ muted: !muted })}>
          {muted ? 'plain' : 'muted'}
        </button>
        <Key>M</Key>
        <button type="button" aria-pressed={ghost} onClick={() => setStillView({ ghost: !ghost })}>
          {ghost ? 'no ghost' : 'ghost'}
        </button>
        <Key>G</Key>
      </Pill>
      <Pill side="right">
        {loop && <ReelCount loop={loop} />}
        {zoom > 1 && (
          <button type="button" onClick={() => setStillView({ zoom: 1, panX: 0, panY: 0 })}>
            {Math.round(zoom * 100)} %
          </button>
        )}
      </Pill>
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

function BrushTools() {
  const { tool, way, size, softness, strength } = useStillView();
  return (
    <>
      <SegmentedControl
        size="xs"
        withItemsBorders={false}
        className={onStage.onStage}
        aria-label="What one paints with"
        value={tool}
        onChange={(value) => setStillView({ tool: value as 'brush' | 'outline' })}
        data={[
          { value: 'brush', label: 'Brush' },
          { value: 'outline', label: 'Outline' },
        ]}
      />
      <SegmentedControl
        size="xs"
        withItemsBorders={false}
        className={onStage.onStage}
        aria-label="What the brush does"
        value={way}
        onChange={(value) => setStillView({ way: value as 'stir' | 'calm' })}
        data={[
          { value: 'stir', label: 'Stir' },
          { value: 'calm', label: 'Calm' },
        ]}
      />
      <Key>X</Key>
      {tool === 'brush' ? (
        <>
          <BrushSlider
            name="width"
            label="Width of the brush"
            value={size}
            {...BRUSH_SIZES}
            unit=" px"
            onChange={(value) => setStillView({ size: value })}
          />
          <BrushSlider
            name="soft"
            label="Softness of the brush's edge"
            value={Math.round(softness * 100)}
            min={0}
            max={100}
            unit=" %"
            onChange={(value) => setStillView({ softness: value / 100 })}
          />
          <BrushSlider
            name="strength"
            label="Strength of the brush"
            value={Math.round(strength * 100)}
            min={5}
            max={100}
            unit=" %"
            onChange={(value) => setStillView({ strength: value / 100 })}
          />
        </>
      ) : (
        <span>click sets points, the first closes; drag, double click bends, Del</span>
      )}
    </>
  );
}

interface BrushSliderProps {
  readonly name: string;
  readonly label: string;
  readonly value: number;
  readonly min: number;
  readonly max: number;
  readonly unit: string;
  readonly onChange: (value: number) => void;
}

function BrushSlider({ name, label, value, min, max, unit, onChange }: BrushSliderProps) {
  return (
    <span className={classes.brushSlider}>
      {name}
      <Slider
        size={3}
        thumbSize={13}
        label={null}
        thumbLabel={label}
        min={min}
        max={max}
        value={value}
        onChange={onChange}
      />
      <strong>
        {value}
        {unit}
      </strong>
    </span>
  );
}

function PaintedPicture({ take, loop, ground }: { take: PieceTake; loop: LoopReel; ground: StageGround }) {
  const { store, session } = useWorkspace();
  const { way, shown, onProblem } = ground;
  const plate = useStore(store, (state) => shownRecipe(state).still.plate);
  const place = useStore(session, (state) => Math.min(state.place, loop.round - 1));
  const { muted, ghost, active, tool, zoom, panX, panY } = useStillView();
  const preview = useStillPreview(active);
  const painting = usePainting(way);
  const box = useRef<HTMLDivElement>(null);
  useWheelZoom(box);
  const transform = `translate(${panX * shown.width}px, ${panY * shown.height}px) scale(${zoom})`;
  return (
    <div ref={box} className={`${stage.shown} ${classes.picture}`} style={{ ...shown, transform }}>
      <StillCanvas
        take={take}
        way={way}
        pick={loop.reel[place]}
        plate={plate}
        preview={preview}
        wet={painting.wet}
        muted={muted && plate !== null}
        ghost={ghost}
        onProblem={onProblem}
      />
      {tool === 'brush' ? (
        <PaintGround shown={shown} way={way} zoom={zoom} painting={painting} />
      ) : (
        <OutlineGround shown={shown} way={way} zoom={zoom} />
      )}
      {preview.problem && <p className={stage.problem}>{preview.problem}</p>}
    </div>
  );
}

interface PaintGroundProps {
  readonly shown: StageGround['shown'];
  readonly way: StageGround['way'];
  readonly zoom: number;
  readonly painting: ReturnType<typeof usePainting>;
}

/** Width of the cursor's rings on the screen, px. */
const RING_PX = 1.5;

/** Takes the strokes; its cursor shows the brush's core and its soft rim. */
function PaintGround({ shown, way, zoom, painting }: PaintGroundProps) {
  const { size, softness, way: paints } = useStillView();
  const [at, setAt] = useState<{ x: number; y: number } | null>(null);
  const panning = useRef<{ x: number; y: number } | null>(null);
  const perTakePx = shown.width / turnedSize(way.part, way.turn).width;
  const radius = (size / 2) * perTakePx;
  const { onPointerDown, onPointerMove, onPointerUp } = painting;
  return (
    <div
      className={classes.ground}
      data-testid="paint"
      data-painting={painting.wet !== null || undefined}
      onPointerDown={(event) => {
        if (event.button === 1) {
          event.preventDefault();
          event.currentTarget.setPointerCapture(event.pointerId);
          panning.current = { x: event.clientX, y: event.clientY };
          return;
        }
        onPointerDown(event);
      }}
      onPointerMove={(event) => {
        const from = panning.current;
        if (from) {
          panBy((event.clientX - from.x) / shown.width, (event.clientY - from.y) / shown.height);
          panning.current = { x: event.clientX, y: event.clientY };
          return;
        }
        const box = event.currentTarget.getBoundingClientRect();
        setAt({ x: (event.clientX - box.left) / zoom, y: (event.clientY - box.top) / zoom });
        onPointerMove(event);
      }}
      onPointerUp={(event) => {
        if (panning.current) panning.current = null;
        else onPointerUp(event);
      }}
      onPointerCancel={onPointerUp}
      onPointerLeave={() => setAt(null)}
    >
      {at && (
        <svg className={classes.cursor} aria-hidden="true" data-way={paints}>
          <circle cx={at.x} cy={at.y} r={radius} strokeWidth={RING_PX / zoom} />
          <circle cx={at.x} cy={at.y} r={radius * (1 - softness)} strokeWidth={RING_PX / zoom} />
        </svg>
      )}
    </div>
  );
}

/** The wheel comes closer around the pointer; with Shift, or sideways, it moves the picture. */
function useWheelZoom(box: React.RefObject<HTMLDivElement | null>): void {
  useEffect(() => {
    const room = box.current?.parentElement;
    if (!room) return;
    const onWheel = (event: WheelEvent) => {
      event.preventDefault();
      const { left, top, width, height } = room.getBoundingClientRect();
      const inner = box.current as HTMLDivElement;
      if (event.shiftKey || Math.abs(event.deltaX) > Math.abs(event.deltaY)) {
        panBy(
          -(event.deltaX || event.deltaY) / inner.offsetWidth,
          event.shiftKey ? 0 : -event.deltaY / inner.offsetHeight,
        );
        return;
      }
      const x = (event.clientX - left - width / 2) / inner.offsetWidth;
      const y = (event.clientY - top - height / 2) / inner.offsetHeight;
      zoomAt(Math.exp(-event.deltaY / 400), x, y);
    };
    room.addEventListener('wheel', onWheel, { passive: false });
    return () => room.removeEventListener('wheel', onWheel);
  }, [box]);
}
