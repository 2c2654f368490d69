import { createFrame, type PixelFrame, pixelWords } from './frame.js';
import type { Rect } from './rect.js';
import type { Size } from './size.js';

/** Quarter turns, in degrees clockwise. */
export const TURNS = [0, 90, 180, 270] as const;
export type Turn = (typeof TURNS)[number];

/** The size after a turn. */
export function turnedSize({ width, height }: Size, turn: Turn): Size {
  return turn === 90 || turn === 270 ? { width: height, height: width } : { width, height };
}

/** The frame turned clockwise and then mirrored left to right; itself where neither is wanted. */
export function turnFrame(frame: PixelFrame, turn: Turn, mirror: boolean): PixelFrame {
  if (turn === 0 && !mirror) return frame;
  const { width, height } = turnedSize(frame, turn);
  const from = pixelWords(frame);
  const out = createFrame(width, height);
  const to = pixelWords(out);
  // Walking the output row by row, the input is walked in these steps.
  const stride = frame.width;
  const last = from.length - 1;
  const [start, across, down] = {
    0: [0, 1, stride],
    90: [last - stride + 1, -stride, 1],
    180: [last, -1, -stride],
    270: [stride - 1, stride, -1],
  }[turn];
  const begin = mirror ? start + (width - 1) * across : start;
  const step = mirror ? -across : across;
  for (let y = 0, at = 0; y < height; y++) {
    for (let x = 0, source = begin + y * down; x < width; x++, source += step) to[at++] = from[source];
  }
  return out;
}

/** Where a rectangle of a picture lies after the picture is turned clockwise and then mirrored. */
export function turnRect(rect: Rect, within: Size, turn: Turn, mirror: boolean): Rect {
  const { x, y, width, height } = rect;
  const turned = {
    0: rect,
    90: { x: within.height - y - height, y: x, width: height, height: width },
    180: { x: within.width - x - width, y: within.height - y - height, width, height },
    270: { x: y, y: within.width - x - width, width: height, height: width },
  }[turn];
  return mirror ? { ...turned, x: turnedSize(within, turn).width - turned.x - turned.width } : turned;
}

/**
 * The rectangle of the picture that `turnRect` sends to this one.
 * @param within the size of the picture before the turn.
 */
export function turnRectBack(rect: Rect, within: Size, turn: Turn, mirror: boolean): Rect {
  const turned = turnedSize(within, turn);
  const plain = mirror ? { ...rect, x: turned.width - rect.x - rect.width } : rect;
  return turnRect(plain, turned, ((360 - turn) % 360) as Turn, false);
}
