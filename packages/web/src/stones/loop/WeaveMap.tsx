import type { WovenTouch } from '@muted-pond/core/loop';
import { STILL, type Weave } from '@muted-pond/core/weave';
import { type PointerEvent, useEffect, useRef } from 'react';
import { useStore } from 'zustand';
import { placeOnTake } from '../../paint/pointer-place.js';
import type { PieceTake } from '../../piece/piece-take.js';
import { useTake } from '../../piece/piece-take.js';
import { useWorkspace } from '../../piece/workspace-context.js';
import type { DrawWay } from '../../stage/draw.js';
import classes from './loop.module.css';

/** Half the width of a stroke, in shares of the take's width. */
const BRUSH = 0.03;
/** A hand that moved less than this has clicked, px. */
const CLICKED = 5;
/** Side of what one line stands for, cells. */
const LATTICE = 3;
/** Held parts, and the lines over what moves. */
const HELD = 'rgb(96 112 108 / 74%)';
const LINE = 'rgb(255 255 255 / 88%)';
const LINE_SHADOW = 'rgb(10 40 36 / 60%)';

interface WeaveMapProps {
  readonly weave: Weave;
  /** The frame of the take that the shown place stands for. */
  readonly source: number;
  readonly way: DrawWay;
  readonly onTouch: (touch: WovenTouch) => void;
}

/**
 * What stands still in grey, and over what moves short lines that drift across once a round: where they drift
 * in step, parts start together. A click holds a part or sets it free, a stroke what it covers.
 */
export function WeaveMap({ weave, source, way, onTouch }: WeaveMapProps) {
  const { session } = useWorkspace();
  const isPlaying = useStore(session, (state) => state.playing);
  const take = useTake();
  const canvas = useRef<HTMLCanvasElement>(null);
  const stroke = useRef<{ moves: boolean; points: [number, number][]; from: [number, number] } | null>(null);
  useEffect(() => {
    const context = canvas.current?.getContext('2d');
    if (context) drawMap(context, weave, source);
  }, [weave, source]);

  const placeOf = (event: PointerEvent<HTMLCanvasElement>) => {
    const box = event.currentTarget.getBoundingClientRect();
    return [(event.clientX - box.left) / box.width, (event.clientY - box.top) / box.height] as const;
  };
  const add = (event: PointerEvent<HTMLCanvasElement>) => {
    const [x, y] = placeOf(event);
    stroke.current?.points.push(shareOfTake(way, take, x, y));
  };
  return (
    <canvas
      ref={canvas}
      className={classes.weaveMap}
      data-testid="weave-map"
      data-playing={isPlaying || undefined}
      role="img"
      aria-label="Which parts move, and when each starts"
      onPointerDown={(event) => {
        if (event.button !== 0) return;
        event.currentTarget.setPointerCapture(event.pointerId);
        const [x, y] = placeOf(event);
        // What moves is held, what is held is set free.
        stroke.current = { moves: !movesAt(weave, x, y), points: [], from: [event.clientX, event.clientY] };
        add(event);
      }}
      onPointerMove={(event) => {
        const now = stroke.current;
        if (!now) return;
        add(event);
        const context = canvas.current?.getContext('2d');
        if (context) drawStroke(context, placeOf(event), now.moves, way, take);
      }}
      onPointerUp={(event) => {
        const now = stroke.current;
        stroke.current = null;
        if (!now) return;
        const far = Math.hypot(event.clientX - now.from[0], event.clientY - now.from[1]);
        const { moves, points } = now;
        onTouch(
          far < CLICKED ? { moves, points: [points[0]], radius: null } : { moves, points, radius: BRUSH },
        );
      }}
      onPointerCancel={() => {
        stroke.current = null;
      }}
    />
  );
}

function shareOfTake(way: DrawWay, { size }: PieceTake, x: number, y: number): [number, number] {
  const place = placeOnTake(way, x, y);
  const within = (value: number) => Number(Math.max(-0.5, Math.min(1.5, value)).toFixed(4));
  return [within(place.x / size.width), within(place.y / size.height)];
}

function cellAt({ cols, rows, across, down }: Weave, x: number, y: number): number {
  const column = Math.max(0, Math.min(cols - 1, Math.floor(x * across)));
  return Math.max(0, Math.min(rows - 1, Math.floor(y * down))) * cols + column;
}

function movesAt(weave: Weave, x: number, y: number): boolean {
  return weave.starts[cellAt(weave, x, y)] !== STILL;
}

/** px of the map for each cell. */
const SCALE = 12;

function drawMap(context: CanvasRenderingContext2D, weave: Weave, source: number): void {
  const { cols, rows, across, down, starts, rounds, length } = weave;
  const { canvas } = context;
  canvas.width = Math.round(across * SCALE);
  canvas.height = Math.round(down * SCALE);
  context.fillStyle = HELD;
  for (let cell = 0; cell < cols * rows; cell++) {
    if (starts[cell] !== STILL) continue;
    context.fillRect((cell % cols) * SCALE, Math.floor(cell / cols) * SCALE, SCALE, SCALE);
  }
  context.lineCap = 'round';
  const side = LATTICE * SCALE;
  for (const [style, width] of [
    [LINE_SHADOW, 5],
    [LINE, 2.5],
  ] as const) {
    context.strokeStyle = style;
    context.lineWidth = width;
    context.beginPath();
    for (let y = 1; y < rows; y += LATTICE) {
      for (let x = 1; x < cols; x += LATTICE) {
        const cell = y * cols + x;
        if (starts[cell] === STILL) continue;
        const round = length / rounds[cell];
        const into = ((((source - starts[cell]) % round) + round) % round) / round;
        // A small wave that crosses its place once a round.
        const left = (x - 1) * SCALE + into * side;
        const middle = (y + 0.5) * SCALE;
        context.moveTo(left - side * 0.22, middle + 3);
        context.quadraticCurveTo(left, middle - 5, left + side * 0.22, middle + 3);
      }
    }
    context.stroke();
  }
}

function drawStroke(
  context: CanvasRenderingContext2D,
  [x, y]: readonly [number, number],
  moves: boolean,
  way: DrawWay,
  { size }: PieceTake,
): void {
  const { width, height } = context.canvas;
  const across = way.turn % 180 === 0 ? way.part.width : way.part.height;
  context.beginPath();
  context.arc(x * width, y * height, (BRUSH * size.width * width) / across, 0, 2 * Math.PI);
  context.fillStyle = moves ? 'rgb(31 138 112 / 45%)' : 'rgb(96 112 108 / 60%)';
  context.fill();
}
