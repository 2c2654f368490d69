import type { Rect } from './rect.js';
import type { Size } from './size.js';

export const FIT_NAMES = ['contain', 'cover', 'stretch'] as const;

/**
 * How a picture takes its place in a frame of another shape: whole with room beside it, filling it with
 * something cut off, or pulled to its shape.
 */
export type Fit = (typeof FIT_NAMES)[number];

/**
 * The point of a picture that stays in sight when something is cut off; 0–1 from the left and from the top.
 */
export interface Focus {
  readonly x: number;
  readonly y: number;
}

export const MIDDLE: Focus = { x: 0.5, y: 0.5 };

/**
 * Where the whole picture lies in a frame, in the frame's pixels. With `cover` it reaches beyond the frame;
 * the focus says which part stays. Otherwise it lies inside, and the focus says where the room beside it
 * goes.
 */
export function placePicture(picture: Size, frame: Size, fit: Fit, focus: Focus = MIDDLE): Rect {
  if (fit === 'stretch') return { x: 0, y: 0, width: frame.width, height: frame.height };
  const across = frame.width / picture.width;
  const down = frame.height / picture.height;
  const scale = fit === 'cover' ? Math.max(across, down) : Math.min(across, down);
  const width = picture.width * scale;
  const height = picture.height * scale;
  return { x: (frame.width - width) * focus.x, y: (frame.height - height) * focus.y, width, height };
}

/** The largest part of a rectangle that has a frame's shape, around its middle. */
export function largestOfShape(rect: Rect, shape: Size): Rect {
  const scale = Math.min(rect.width / shape.width, rect.height / shape.height);
  const width = shape.width * scale;
  const height = shape.height * scale;
  return { x: rect.x + (rect.width - width) / 2, y: rect.y + (rect.height - height) / 2, width, height };
}
