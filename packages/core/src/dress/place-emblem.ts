import { createFrame, createResizer, type PixelFrame, type Rect, type Size } from '../pixels/index.js';
import type { Anchor, Emblem } from './emblem.js';
import type { Overlay } from './lay-over.js';

/** Where an emblem lies on a frame before it is turned, px. @param picture its own size. */
export function emblemRect(emblem: Emblem, picture: Size, frame: Size): Rect {
  const width = Math.max(1, (emblem.width / 100) * frame.width);
  const height = Math.max(1, (width * picture.height) / picture.width);
  const margin = (emblem.margin / 100) * Math.min(frame.width, frame.height);
  const [across, down] = sidesOf(emblem.anchor);
  return {
    x: along(across, frame.width, width, margin),
    y: along(down, frame.height, height, margin),
    width,
    height,
  };
}

type Side = 'start' | 'middle' | 'end';

function sidesOf(anchor: Anchor): [across: Side, down: Side] {
  const across = anchor.includes('left') ? 'start' : anchor.includes('right') ? 'end' : 'middle';
  const down = anchor.includes('top') ? 'start' : anchor.includes('bottom') ? 'end' : 'middle';
  return [across, down];
}

function along(side: Side, room: number, length: number, margin: number): number {
  if (side === 'middle') return (room - length) / 2;
  return side === 'start' ? margin : room - length - margin;
}

/** An emblem at its size, turned, and where it lies on the frame. */
export function placeEmblem(emblem: Emblem, picture: PixelFrame, frame: Size): Overlay {
  const rect = emblemRect(emblem, picture, frame);
  const size = { width: Math.max(1, Math.round(rect.width)), height: Math.max(1, Math.round(rect.height)) };
  const resized = createResizer(picture, size).resize(picture);
  if (emblem.turn === 0) return { picture: resized, x: Math.round(rect.x), y: Math.round(rect.y) };
  const turned = turnBy(resized, emblem.turn);
  return {
    picture: turned,
    x: Math.round(rect.x + (rect.width - turned.width) / 2),
    y: Math.round(rect.y + (rect.height - turned.height) / 2),
  };
}

/** Turned clockwise around its middle, bilinear, colours weighted by alpha; as large as it needs to be. */
function turnBy(picture: PixelFrame, degrees: number): PixelFrame {
  const angle = (degrees * Math.PI) / 180;
  const [cos, sin] = [Math.cos(angle), Math.sin(angle)];
  const width = Math.ceil(Math.abs(picture.width * cos) + Math.abs(picture.height * sin));
  const height = Math.ceil(Math.abs(picture.width * sin) + Math.abs(picture.height * cos));
  const out = createFrame(width, height);
  for (let y = 0, i = 0; y < height; y++) {
    for (let x = 0; x < width; x++, i += 4) {
      const [right, down] = [x + 0.5 - width / 2, y + 0.5 - height / 2];
      const fromX = right * cos + down * sin + picture.width / 2 - 0.5;
      const fromY = down * cos - right * sin + picture.height / 2 - 0.5;
      sample(picture, fromX, fromY, out.rgba, i);
    }
  }
  return out;
}

function sample(
  { width, height, rgba }: PixelFrame,
  x: number,
  y: number,
  out: Uint8Array,
  at: number,
): void {
  const [left, top] = [Math.floor(x), Math.floor(y)];
  let [red, green, blue, alpha] = [0, 0, 0, 0];
  for (const [column, row, share] of [
    [left, top, (1 - x + left) * (1 - y + top)],
    [left + 1, top, (x - left) * (1 - y + top)],
    [left, top + 1, (1 - x + left) * (y - top)],
    [left + 1, top + 1, (x - left) * (y - top)],
  ]) {
    if (column < 0 || row < 0 || column >= width || row >= height) continue;
    const from = (row * width + column) * 4;
    const weight = share * rgba[from + 3];
    red += rgba[from] * weight;
    green += rgba[from + 1] * weight;
    blue += rgba[from + 2] * weight;
    alpha += weight;
  }
  if (alpha === 0) return;
  out[at] = Math.round(red / alpha);
  out[at + 1] = Math.round(green / alpha);
  out[at + 2] = Math.round(blue / alpha);
  out[at + 3] = Math.round(alpha);
}
