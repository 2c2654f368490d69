import { type Matte, type Rect, type Size, sizeWithin, type Turn, turnedSize } from '@muted-pond/core/pixels';
import type { Recipe, TakeFrame } from '@muted-pond/core/recipe';
import type { PieceTake } from '../piece/piece-take.js';

/** Longer side of a canvas on the stage, px; working frames are no larger. */
const CANVAS_LONG_SIDE = 960;

/** How a frame of the take is drawn on the stage. */
export interface DrawWay {
  readonly takeSize: Size;
  /** The part that is shown, in the take's pixels. */
  readonly part: Rect;
  readonly turn: Turn;
  readonly mirror: boolean;
  readonly matte: Matte;
  /** In pixels of the canvas; as large as working frames allow by default. */
  readonly size?: Size;
}

/** The whole picture, upright as the framing turns it; or just the part that will be seen. */
export function drawWay(
  take: PieceTake,
  { sources, framing }: Pick<Recipe, 'sources' | 'framing'>,
  view: 'whole' | 'framed',
): DrawWay {
  const [source] = sources;
  const { crop, turn, mirror } = framing;
  const whole = { x: 0, y: 0, ...take.size };
  return {
    takeSize: take.size,
    part: view === 'framed' ? (crop ?? whole) : whole,
    turn,
    mirror,
    matte: source.kind === 'stills' ? source.matte : 'transparent',
  };
}

/** The size in which it is drawn. */
export function drawnSize({ part, turn, size }: DrawWay): Size {
  return size ?? sizeWithin(turnedSize(part, turn), CANVAS_LONG_SIDE);
}

/** One frame of the take on the stage. */
export interface Layer {
  readonly frame: number;
  /** How much of it is seen over what lies beneath, 0–1. */
  readonly alpha?: number;
  /** `difference` shows how far it is from what lies beneath, channel by channel. */
  readonly mode?: 'over' | 'difference';
}

const OPERATIONS = {
  over: 'source-over',
  difference: 'difference',
} as const satisfies Record<NonNullable<Layer['mode']>, GlobalCompositeOperation>;

/** Gives the canvas that many pixels; what it shows stays where it has them already. */
export function fitCanvas({ canvas }: CanvasRenderingContext2D, { width, height }: Size): void {
  if (canvas.width !== width) canvas.width = width;
  if (canvas.height !== height) canvas.height = height;
}

/** @param over null clears the canvas first; a layer is laid over what is there. */
export function drawFrame(
  context: CanvasRenderingContext2D,
  bitmap: CanvasImageSource,
  { placement }: Pick<TakeFrame, 'placement'>,
  way: DrawWay,
  over: Omit<Layer, 'frame'> | null = null,
): void {
  const { part, turn, mirror, matte } = way;
  const size = drawnSize(way);
  fitCanvas(context, size);
  context.resetTransform();
  context.globalAlpha = over?.alpha ?? 1;
  context.globalCompositeOperation = OPERATIONS[over?.mode ?? 'over'];
  if (!over) context.clearRect(0, 0, size.width, size.height);
  if (!over && matte !== 'transparent') {
    context.fillStyle = matte;
    context.fillRect(0, 0, size.width, size.height);
  }
  // From the middle: mirror, then turn, then the part's own pixels.
  const lying = turnedSize(size, turn);
  context.translate(size.width / 2, size.height / 2);
  context.scale(mirror ? -1 : 1, 1);
  context.rotate((turn * Math.PI) / 180);
  context.scale(lying.width / part.width, lying.height / part.height);
  context.translate(-part.width / 2 - part.x, -part.height / 2 - part.y);
  context.drawImage(bitmap, placement.x, placement.y, placement.width, placement.height);
}

/** Makes what is drawn so many times lighter, by adding it to itself. @param times a power of two. */
export function amplify(context: CanvasRenderingContext2D, times: number): void {
  context.resetTransform();
  context.globalAlpha = 1;
  context.globalCompositeOperation = 'lighter';
  for (let done = 1; done < times; done *= 2) context.drawImage(context.canvas, 0, 0);
  context.globalCompositeOperation = 'source-over';
}
