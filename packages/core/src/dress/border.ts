import Joi from 'joi';
import { MATTE_PATTERN, type Matte, matteBytes, type PixelFrame } from '../pixels/index.js';
import { type Bounds, type HexColour, hexColour, whole } from '../schema/index.js';

/** A line along all edges of every frame, inside it. */
export interface Border {
  /** px of the finished file. */
  readonly width: number;
  readonly colour: HexColour;
}

/** Round corners of every frame. */
export interface Corners {
  /** px of the finished file. */
  readonly radius: number;
  /** What is seen beside them. */
  readonly fill: Matte;
}

export const BORDER_LIMITS = {
  width: { min: 1, max: 200 },
  radius: { min: 1, max: 960 },
} as const satisfies Record<string, Bounds>;

export const borderSchema = Joi.object<Border>({
  width: whole(BORDER_LIMITS.width),
  colour: hexColour,
});

export const cornersSchema = Joi.object<Corners>({
  radius: whole(BORDER_LIMITS.radius),
  fill: Joi.string().pattern(MATTE_PATTERN).required(),
});

/**
 * Draws a border and rounds the corners of a frame, in place. Edges between pixels are mixed by how much of the
 * pixel they cover.
 */
export function edgeFrame(frame: PixelFrame, border: Border | null, corners: Corners | null): void {
  const { width, height, rgba } = frame;
  const radius = Math.min(corners?.radius ?? 0, width / 2, height / 2);
  const line = Math.min(border?.width ?? 0, width / 2, height / 2);
  const ink = border ? matteBytes(border.colour as Matte) : matteBytes('#000000');
  const fill = corners && corners.fill !== 'transparent' ? matteBytes(corners.fill) : null;
  const reach = Math.ceil(Math.max(radius, line));
  for (let y = 0; y < height; y++) {
    const isMiddleRow = y >= reach && y < height - reach;
    for (let x = 0; x < width; x++) {
      if (isMiddleRow && x === reach && width > 2 * reach) x = width - reach;
      const inside = depthInside(x + 0.5, y + 0.5, width, height, radius);
      const i = (y * width + x) * 4;
      if (line > 0 && inside < line + 0.5) {
        mixInto(rgba, i, ink, Math.min(1, line + 0.5 - inside));
        rgba[i + 3] = Math.max(rgba[i + 3], Math.round(255 * Math.min(1, line + 0.5 - inside)));
      }
      if (radius === 0 || inside >= 0.5) continue;
      const outside = Math.min(1, 0.5 - inside);
      if (fill) {
        mixInto(rgba, i, fill, outside);
        rgba[i + 3] = Math.max(rgba[i + 3], Math.round(255 * outside));
      } else {
        rgba[i + 3] = Math.round(rgba[i + 3] * (1 - outside));
      }
    }
  }
}

/** How far a point lies inside a rectangle with round corners, px; below zero outside it. */
function depthInside(x: number, y: number, width: number, height: number, radius: number): number {
  const across = Math.min(x, width - x);
  const down = Math.min(y, height - y);
  if (across >= radius || down >= radius) return Math.min(across, down);
  return radius - Math.hypot(radius - across, radius - down);
}

function mixInto(rgba: Uint8Array, at: number, colour: readonly number[], share: number): void {
  for (let c = 0; c < 3; c++) rgba[at + c] = Math.round(rgba[at + c] + (colour[c] - rgba[at + c]) * share);
}
