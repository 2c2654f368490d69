import type { Fit, Matte, Rect, Size, Turn } from '../pixels/index.js';
import { largestOfShape, turnedSize } from '../pixels/index.js';

/** A frame of fixed size that the picture is laid into at the end. */
export interface Box extends Size {
  readonly fit: Fit;
  readonly matte: Matte;
  /** The picture itself, blurred, beside itself instead of the matte. */
  readonly blurred?: boolean;
}

/** How much of the picture is seen, and which way up. Applied in this order: crop, turn, mirror, box. */
export interface Framing {
  /** Whole pixels of the upright footage, or of the canvas of stills; null is all of it. */
  readonly crop: Rect | null;
  /** Degrees clockwise. */
  readonly turn: Turn;
  /** Left becomes right, after the turn. */
  readonly mirror: boolean;
  readonly box: Box | null;
}

export const WHOLE_PICTURE: Framing = { crop: null, turn: 0, mirror: false, box: null };

/** The part of the picture that is seen, in its pixels: the crop, less what a covering box cuts off. */
export function seenPart(picture: Size, { crop, turn, box }: Framing): Rect {
  const whole = crop ?? { x: 0, y: 0, width: picture.width, height: picture.height };
  return box?.fit === 'cover' ? largestOfShape(whole, turnedSize(box, turn)) : whole;
}

/** The seen part in shares of the picture's width and height. */
export function seenShare(picture: Size, framing: Framing): Rect {
  const { x, y, width, height } = seenPart(picture, framing);
  return {
    x: x / picture.width,
    y: y / picture.height,
    width: width / picture.width,
    height: height / picture.height,
  };
}

/** The size of the framed picture before it is made smaller. */
export function framedSize(picture: Size, framing: Framing): Size {
  if (framing.box) return { width: framing.box.width, height: framing.box.height };
  return turnedSize(seenPart(picture, framing), framing.turn);
}
