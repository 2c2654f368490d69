import { type CSSProperties, useEffect, useRef } from 'react';
import { placeOnShown, placeOnTake } from '../../paint/pointer-place.js';
import type { DrawWay } from '../../stage/draw.js';
import classes from './loop.module.css';
import type { SeamNow } from './seam-now.js';

/** Longer side of the drawn map, px: it is soft, and is drawn larger by the browser. */
const SIDE = 120;
/** What covers the rest of the picture, and how much of it; and from which share of what is seen most on it gives way. */
const COVER = [15, 40, 43] as const;
const COVERED = 0.72;
const LEAST_SEEN = 0.2;
/** A map that nowhere has more is taken to have so much. */
const LEAST_MOST = 0.1;

interface SeamMapProps {
  readonly seam: SeamNow;
  /** What is seen there. */
  readonly words: string;
  readonly way: DrawWay;
}

/** Where a joint is seen: the rest of the picture is covered, the more the less is seen there. */
export function SeamMap({ seam, words, way }: SeamMapProps) {
  const canvas = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    const context = canvas.current?.getContext('2d');
    if (context) drawMap(context, seam, way);
  }, [seam, way]);
  const worst = worstPlace(seam, way);
  const place: CSSProperties = {
    left: `${(100 * Math.max(0.02, Math.min(0.98, worst.x))).toFixed(1)}%`,
    top: `${(100 * Math.max(0.06, Math.min(0.94, worst.y))).toFixed(1)}%`,
  };
  return (
    <>
      <canvas
        ref={canvas}
        className={classes.seamMap}
        data-testid="seam-map"
        role="img"
        aria-label={`Map of the joint: ${words}`}
      />
      <span
        className={classes.seamLabel}
        style={place}
        data-side={worst.x > 0.5 ? 'left' : 'right'}
        aria-hidden
      >
        {words}
      </span>
    </>
  );
}

/** Where a share of the shown picture lies on what was measured: a woven reel as it is shown, else the take. */
function onMeasured(seam: SeamNow, way: DrawWay, x: number, y: number): { x: number; y: number } {
  if (seam.isWoven) return { x, y };
  const place = placeOnTake(way, x, y);
  return { x: place.x / way.takeSize.width, y: place.y / way.takeSize.height };
}

function drawMap(context: CanvasRenderingContext2D, seam: SeamNow, way: DrawWay): void {
  const { canvas } = context;
  const { part, turn } = way;
  const aspect = turn % 180 === 0 ? part.width / part.height : part.height / part.width;
  canvas.width = Math.max(1, Math.round(aspect >= 1 ? SIDE : SIDE * aspect));
  canvas.height = Math.max(1, Math.round(aspect >= 1 ? SIDE / aspect : SIDE));
  const image = context.createImageData(canvas.width, canvas.height);
  const most = Math.max(LEAST_MOST, ...seam.map.values);
  for (let y = 0, i = 0; y < canvas.height; y++) {
    for (let x = 0; x < canvas.width; x++, i += 4) {
      const place = onMeasured(seam, way, (x + 0.5) / canvas.width, (y + 0.5) / canvas.height);
      const value = valueAt(seam.map, place.x, place.y) / most;
      const share = Math.max(0, Math.min(1, (value - LEAST_SEEN) / (1 - LEAST_SEEN)));
      image.data.set([...COVER, 255 * COVERED * (1 - share)], i);
    }
  }
  context.putImageData(image, 0, 0);
}

/** The map softly between the middles of its blocks. @param x and y shares of the picture. */
export function valueAt({ columns, rows, values }: SeamNow['map'], x: number, y: number): number {
  const [u, v] = [x * columns - 0.5, y * rows - 0.5];
  const [left, top] = [Math.floor(u), Math.floor(v)];
  const at = (column: number, row: number) =>
    values[Math.max(0, Math.min(rows - 1, row)) * columns + Math.max(0, Math.min(columns - 1, column))];
  const [across, down] = [u - left, v - top];
  const upper = at(left, top) * (1 - across) + at(left + 1, top) * across;
  const lower = at(left, top + 1) * (1 - across) + at(left + 1, top + 1) * across;
  return upper * (1 - down) + lower * down;
}

/** The middle of the block where most is seen, in shares of the shown picture. */
function worstPlace(seam: SeamNow, way: DrawWay): { x: number; y: number } {
  const { columns, rows, values } = seam.map;
  let worst = 0;
  for (let b = 1; b < values.length; b++) if (values[b] > values[worst]) worst = b;
  const place = { x: ((worst % columns) + 0.5) / columns, y: (Math.floor(worst / columns) + 0.5) / rows };
  if (seam.isWoven) return place;
  return placeOnShown(way, place.x * way.takeSize.width, place.y * way.takeSize.height);
}
