import { useElementSize, useMergedRef } from '@mantine/hooks';
import { type ActivitySeries, calmAt } from '@muted-pond/core/motion';
import { frameAt } from '@muted-pond/core/timing';
import { type PointerEvent as ReactPointerEvent, useEffect, useRef, useState } from 'react';
import { useActivity } from '../api/activity.js';
import { useTake } from '../piece/piece-take.js';
import { useWorkspace } from '../piece/workspace-context.js';
import { takeCalmest } from './calm-edits.js';
import { ribbonColumns } from './ribbon-columns.js';
import classes from './strip.module.css';
import { useStripView } from './use-strip-view.js';

/** Over time: how much moves, and how still camera and light are. A click takes the calmest stretch there. */
export function Ribbons() {
  const workspace = useWorkspace();
  const take = useTake();
  const view = useStripView();
  const activity = useActivity(take.footage?.id ?? null, take.frameCount).data;
  const box = useRef<HTMLDivElement>(null);
  const { ref, width } = useElementSize<HTMLDivElement>();
  const setBox = useMergedRef(box, ref);
  const [hovered, setHovered] = useState<number | null>(null);
  if (!take.footage || take.frameCount < 2) return null;

  const frameUnder = (event: ReactPointerEvent | React.MouseEvent) => {
    const { left, width: wide } = (box.current as HTMLDivElement).getBoundingClientRect();
    return frameAt(take.times, view.from + ((event.clientX - left) / wide) * (view.to - view.from));
  };
  const isKnown = activity !== undefined && hovered !== null && hovered < activity.moves.length;
  const share = hovered === null ? 0 : (take.times.starts[hovered] - view.from) / (view.to - view.from);
  return (
    // biome-ignore lint/a11y/useKeyWithClickEvents: the same is a button in the settings of Cut
    // biome-ignore lint/a11y/noStaticElementInteractions: as above
    <div
      ref={setBox}
      className={classes.ribbons}
      data-testid="ribbons"
      data-known={activity?.moves.length ?? 0}
      onPointerMove={(event) => setHovered(frameUnder(event))}
      onPointerLeave={() => setHovered(null)}
      onClick={(event) => activity && takeCalmest(workspace, activity, frameUnder(event))}
    >
      <Ribbon kind="moves" activity={activity} width={width} />
      <Ribbon kind="calm" activity={activity} width={width} />
      {isKnown && (
        <>
          <div className={classes.ribbonLine} style={{ left: `${share * 100}%` }} />
          <div
            className={classes.ribbonTell}
            style={{ left: `clamp(190px, ${share * 100}%, calc(100% - 190px))` }}
          >
            <Figures activity={activity} frame={hovered} />
          </div>
        </>
      )}
    </div>
  );
}

function Figures({ activity, frame }: { activity: ActivitySeries; frame: number }) {
  const shift = Math.hypot(activity.shiftX[frame], activity.shiftY[frame]);
  return (
    <>
      <strong>moves {activity.moves[frame].toFixed(1)}</strong> levels · <strong>calm</strong>{' '}
      {Math.round(calmAt(activity, frame))} (camera {shift.toFixed(1)} px, light{' '}
      {Math.abs(activity.light[frame]).toFixed(1)} levels a frame) · click takes the calmest stretch here
    </>
  );
}

interface RibbonProps {
  readonly kind: 'moves' | 'calm';
  readonly activity: ActivitySeries | undefined;
  readonly width: number;
}

function Ribbon({ kind, activity, width }: RibbonProps) {
  const { times } = useTake();
  const view = useStripView();
  const canvas = useRef<HTMLCanvasElement>(null);
  const { from, to } = view;
  useEffect(() => {
    const context = canvas.current?.getContext('2d');
    if (!context || width < 1) return;
    const { width: columns, height } = context.canvas;
    context.clearRect(0, 0, columns, height);
    if (!activity || activity.moves.length < 2) return;
    const values = ribbonColumns(activity, times, { from, to }, columns)[kind];
    const style = getComputedStyle(context.canvas);
    context.beginPath();
    let last = 0;
    for (; last < columns && !Number.isNaN(values[last]); last++) {
      context.lineTo(last, height - 2 - values[last] * (height - 5));
    }
    if (kind === 'moves') {
      context.lineTo(last, height);
      context.lineTo(0, height);
      context.fillStyle = style.getPropertyValue('--ribbon-moves');
      context.fill();
    } else {
      context.lineWidth = 1.5 * devicePixelRatio;
      context.strokeStyle = style.getPropertyValue('--deep');
      context.stroke();
    }
  }, [kind, activity, times, from, to, width]);
  const scale = Math.min(2, devicePixelRatio);
  return (
    <div className={classes.ribbon}>
      <canvas ref={canvas} width={Math.round(width * scale)} height={Math.round(24 * scale)} />
      <span>{kind}</span>
    </div>
  );
}
