import {
  blurredGround,
  createResizer,
  intersect,
  layOnMatte,
  type Matte,
  type PixelFrame,
  placePicture,
  type Rect,
  type Size,
  sizeForWidth,
  turnedSize,
  turnFrame,
} from '../pixels/index.js';
import { type Framing, framedSize, seenPart } from '../recipe/index.js';

/** One picture on its way to a frame of the reel. */
export type Compose = (picture: PixelFrame) => PixelFrame;

export interface Composition {
  /** The canvas that placement and crop are counted in. */
  readonly canvas: Size;
  /** Where the picture lies on it. */
  readonly placement: Rect;
  /** What shows of the canvas where the picture does not. */
  readonly matte: Matte;
  readonly framing: Framing;
  /** The finished frame. */
  readonly size: Size;
}

/** The finished frame's size: the framed picture, made smaller to the width asked for. */
export function composedSize(canvas: Size, framing: Framing, width: number): Size {
  return sizeForWidth(framedSize(canvas, framing), width);
}

/**
 * Crop, turn, resize: from a picture to a frame of the reel. The picture is resampled once, whatever is
 * asked.
 * @param picture the size in which it will be given; it may be smaller than the file's own.
 */
export function createCompose(picture: Size, composition: Composition): Compose {
  const { canvas, placement, matte, framing, size } = composition;
  const seen = seenPart(canvas, framing);
  const inBox = boxPlacement(seen, framing, size);
  // Before the turn.
  const lying = turnedSize(inBox, framing.turn);
  const drawn = drawPart(picture, seen, placement, lying, matte);
  const fillsFrame = inBox.width === size.width && inBox.height === size.height;
  return (frame) => {
    const upright = turnFrame(drawn(frame), framing.turn, framing.mirror);
    if (fillsFrame) return upright;
    if (framing.box?.blurred) return layOnPicture(upright, inBox, blurredGround(upright, size));
    return layOnMatte(upright, size, inBox, framing.box?.matte ?? matte);
  };
}

/** The picture over another one, which is written into. */
function layOnPicture(picture: PixelFrame, { x, y }: Rect, ground: PixelFrame): PixelFrame {
  for (let row = 0; row < picture.height; row++) {
    const line = picture.rgba.subarray(row * picture.width * 4, (row + 1) * picture.width * 4);
    ground.rgba.set(line, ((y + row) * ground.width + x) * 4);
  }
  return ground;
}

/** Where the seen part lies in the finished frame, in whole pixels. */
function boxPlacement(seen: Rect, { box, turn }: Framing, size: Size): Rect {
  if (box?.fit !== 'contain') return { x: 0, y: 0, ...size };
  return wholePixels(placePicture(turnedSize(seen, turn), size, 'contain'));
}

/** The seen part of the canvas at the given size: the picture where it lies, the matte elsewhere. */
function drawPart(picture: Size, seen: Rect, placement: Rect, size: Size, matte: Matte): Compose {
  const visible = intersect(seen, placement);
  const across = size.width / seen.width;
  const down = size.height / seen.height;
  if (!visible) return (frame) => layOnMatte(frame, size, { x: size.width, y: size.height }, matte);
  const place = wholePixels({
    x: (visible.x - seen.x) * across,
    y: (visible.y - seen.y) * down,
    width: visible.width * across,
    height: visible.height * down,
  });
  const window = {
    x: ((visible.x - placement.x) * picture.width) / placement.width,
    y: ((visible.y - placement.y) * picture.height) / placement.height,
    width: (visible.width * picture.width) / placement.width,
    height: (visible.height * picture.height) / placement.height,
  };
  const resizer = createResizer(picture, place, window);
  if (matte === 'transparent' && place.width === size.width && place.height === size.height)
    return resizer.resize;
  return (frame) => layOnMatte(resizer.resize(frame), size, place, matte);
}

/** The nearest whole pixels, at least one each way. */
function wholePixels({ x, y, width, height }: Rect): Rect {
  const left = Math.round(x);
  const top = Math.round(y);
  return {
    x: left,
    y: top,
    width: Math.max(1, Math.round(x + width) - left),
    height: Math.max(1, Math.round(y + height) - top),
  };
}

/**
 * The size in which a picture is best decoded: its own, or a whole fraction of it that still has about half
 * as many pixels again as are drawn each way.
 */
export function decodeSize(picture: Size, { canvas, placement, framing, size }: Composition): Size {
  const seen = seenPart(canvas, framing);
  const inside = turnedSize(boxPlacement(seen, framing, size), framing.turn);
  const across = (picture.width / placement.width) * (seen.width / inside.width);
  const down = (picture.height / placement.height) * (seen.height / inside.height);
  const shrink = Math.max(1, Math.floor(Math.min(across, down) / 1.5));
  if (shrink === 1) return { width: picture.width, height: picture.height };
  return { width: Math.ceil(picture.width / shrink), height: Math.ceil(picture.height / shrink) };
}
