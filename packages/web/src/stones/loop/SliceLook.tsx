import { type PointerEvent, useEffect, useRef, useState } from 'react';
import type { StagePlan } from '../../pictures/composed-frames.js';
import { useWorkspace } from '../../piece/workspace-context.js';
import classes from './loop.module.css';
import { setLoopView, useLoopView } from './loop-view.js';
import { moveEnd, moveLine, proposeLine, type SliceLine, UPRIGHT } from './slice-line.js';

/** Moments of the round that a line is proposed from, and the size they are looked at in. */
const MOMENTS = 8;
const SMALL = { width: 64, height: 36 };
/** px of the slice along the line. */
const ALONG = 360;
const KEY_STEP = 0.01;

/** The line on the picture: dragged as a whole, or turned by its ends. */
export function SliceLineOnPicture() {
  const { line } = useLoopView();
  const shown = line ?? UPRIGHT;
  const ground = useRef<SVGSVGElement>(null);
  const held = useRef<{ what: 'from' | 'to' | 'line'; x: number; y: number } | null>(null);
  const placeOf = (event: PointerEvent) => {
    const box = (ground.current as SVGSVGElement).getBoundingClientRect();
    return { x: (event.clientX - box.left) / box.width, y: (event.clientY - box.top) / box.height };
  };
  const grasp = (what: 'from' | 'to' | 'line') => ({
    onPointerDown(event: PointerEvent<SVGElement>) {
      if (event.button !== 0) return;
      event.currentTarget.setPointerCapture(event.pointerId);
      held.current = { what, ...placeOf(event) };
    },
    onPointerMove(event: PointerEvent<SVGElement>) {
      const now = held.current;
      if (!now || now.what !== what) return;
      const { x, y } = placeOf(event);
      const next = what === 'line' ? moveLine(shown, x - now.x, y - now.y) : moveEnd(shown, what, x, y);
      held.current = { what, x, y };
      setLoopView({ line: next });
    },
    onPointerUp() {
      held.current = null;
    },
  });
  const byKeys = (move: (dx: number, dy: number) => SliceLine) => (event: React.KeyboardEvent) => {
    const by = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[event.key];
    if (!by) return;
    event.preventDefault();
    event.stopPropagation();
    setLoopView({ line: move(by[0] * KEY_STEP, by[1] * KEY_STEP) });
  };
  const percent = (value: number) => `${value * 100}%`;
  const [x1, y1] = shown.from;
  const [x2, y2] = shown.to;
  const ends = [
    ['from', 'The line’s first end', x1, y1],
    ['to', 'The line’s second end', x2, y2],
  ] as const;
  return (
    <svg ref={ground} className={classes.sliceGround} aria-label="The line that is looked along">
      <line
        className={classes.sliceShade}
        x1={percent(x1)}
        y1={percent(y1)}
        x2={percent(x2)}
        y2={percent(y2)}
      />
      <line
        className={classes.sliceLine}
        x1={percent(x1)}
        y1={percent(y1)}
        x2={percent(x2)}
        y2={percent(y2)}
      />
      <line
        className={classes.sliceHit}
        x1={percent(x1)}
        y1={percent(y1)}
        x2={percent(x2)}
        y2={percent(y2)}
        role="slider"
        aria-label="The line"
        aria-valuetext={lineWords(shown)}
        aria-valuenow={Math.round(50 * (x1 + x2))}
        tabIndex={0}
        onKeyDown={byKeys((dx, dy) => moveLine(shown, dx, dy))}
        {...grasp('line')}
      />
      {ends.map(([end, label, x, y]) => (
        <circle
          key={end}
          className={classes.sliceEnd}
          cx={percent(x)}
          cy={percent(y)}
          r={7}
          role="slider"
          aria-label={label}
          aria-valuetext={`${Math.round(100 * x)} % across, ${Math.round(100 * y)} % down`}
          aria-valuenow={Math.round(100 * x)}
          tabIndex={0}
          onKeyDown={byKeys((dx, dy) => moveEnd(shown, end, x + dx, y + dy))}
          {...grasp(end)}
        />
      ))}
    </svg>
  );
}

function lineWords({ from, to }: SliceLine): string {
  const at = ([x, y]: readonly [number, number]) =>
    `${Math.round(100 * x)} % across, ${Math.round(100 * y)} % down`;
  return `from ${at(from)} to ${at(to)}`;
}

interface SliceProps {
  readonly plan: StagePlan;
  /** Places of one round. */
  readonly round: number;
}

/**
 * The pixels under the line, place after place over two rounds: the joint stands in the middle. What runs on
 * there is not noticed; a break, a bend or a ghost is seen at a glance.
 */
export function Slice({ plan, round }: SliceProps) {
  const { composed, session } = useWorkspace();
  const { line } = useLoopView();
  const canvas = useRef<HTMLCanvasElement>(null);
  const [loaded, setLoaded] = useState<{ plan: StagePlan; frames: readonly (ImageBitmap | null)[] } | null>(
    null,
  );
  // Those of another plan are closed already.
  const frames = loaded?.plan === plan ? loaded.frames : NOTHING_YET;
  useEffect(() => {
    let current = true;
    const there: (ImageBitmap | null)[] = Array.from({ length: round }, () => null);
    const load = async () => {
      for (let place = 0; place < round && current; place++) {
        const pictures = await composed.load(plan, place).catch(() => null);
        if (!current || !pictures) continue;
        // The cache may close it when it makes room; the slice keeps its own small one.
        const small = await createImageBitmap(pictures.frame, {
          resizeWidth: Math.min(pictures.frame.width, KEPT_WIDTH),
          resizeQuality: 'high',
        }).catch(() => null);
        if (!current) return small?.close();
        there[place] = small;
        if (place % 8 === 7 || place === round - 1) setLoaded({ plan, frames: [...there] });
      }
    };
    void load();
    return () => {
      current = false;
      for (const frame of there) frame?.close();
    };
  }, [composed, plan, round]);
  useEffect(() => {
    if (line !== null || frames.length < round || frames.some((frame) => !frame)) return;
    setLoopView({ line: proposeLine(moments(frames as ImageBitmap[]), SMALL.width, SMALL.height) });
  }, [frames, line, round]);
  useEffect(() => {
    const context = canvas.current?.getContext('2d');
    if (context) drawSlice(context, frames, round, line ?? UPRIGHT);
  }, [frames, round, line]);
  const done = frames.filter(Boolean).length;
  return (
    <figure className={classes.slice}>
      <canvas
        ref={canvas}
        data-testid="slice"
        data-done={done === round || undefined}
        role="img"
        aria-label="The line’s pixels over two rounds, with the joint in the middle"
        onPointerDown={(event) => {
          const box = event.currentTarget.getBoundingClientRect();
          const place = Math.floor((2 * round * (event.clientX - box.left)) / box.width) % round;
          session.getState().seekReel(place, 0);
        }}
      />
      <span className={classes.sliceJoint} aria-hidden="true" />
      <figcaption>
        <span>first round</span>
        <strong>joint</strong>
        <span>{done < round ? `${done} of ${round}` : 'the same again'}</span>
      </figcaption>
    </figure>
  );
}

const KEPT_WIDTH = 480;
const NOTHING_YET: readonly (ImageBitmap | null)[] = [];

/** Some moments of the round, small and grey. */
function moments(frames: readonly ImageBitmap[]): Uint8Array[] {
  const small = new OffscreenCanvas(SMALL.width, SMALL.height);
  const context = small.getContext('2d', { willReadFrequently: true });
  const count = Math.min(MOMENTS, frames.length);
  return Array.from({ length: count }, (_, k) => {
    if (!context) return new Uint8Array(SMALL.width * SMALL.height);
    context.drawImage(frames[Math.floor((k * frames.length) / count)], 0, 0, SMALL.width, SMALL.height);
    const { data } = context.getImageData(0, 0, SMALL.width, SMALL.height);
    return Uint8Array.from(
      { length: SMALL.width * SMALL.height },
      (_, p) => (data[4 * p] + 2 * data[4 * p + 1] + data[4 * p + 2]) >> 2,
    );
  });
}

/** One column a place: each picture is laid so that the line stands upright in it. */
function drawSlice(
  context: CanvasRenderingContext2D,
  frames: readonly (ImageBitmap | null)[],
  round: number,
  { from, to }: SliceLine,
): void {
  const { canvas } = context;
  const column = Math.max(2, Math.floor(1200 / (2 * round)));
  canvas.width = 2 * round * column;
  canvas.height = ALONG;
  for (const [place, frame] of frames.entries()) {
    if (!frame) continue;
    const [x1, y1] = [from[0] * frame.width, from[1] * frame.height];
    const [x2, y2] = [to[0] * frame.width, to[1] * frame.height];
    const angle = Math.PI / 2 - Math.atan2(y2 - y1, x2 - x1);
    const scale = ALONG / Math.hypot(x2 - x1, y2 - y1);
    for (const at of [place * column, (place + round) * column]) {
      context.save();
      context.beginPath();
      context.rect(at, 0, column, ALONG);
      context.clip();
      context.translate(at + column / 2, 0);
      // Across the line one pixel fills the column.
      context.scale(column, scale);
      context.rotate(angle);
      context.translate(-x1, -y1);
      context.drawImage(frame, 0, 0);
      context.restore();
    }
  }
}
