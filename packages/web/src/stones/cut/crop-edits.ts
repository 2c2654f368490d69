import {
  fitRect,
  largestOfShape,
  type Rect,
  type Size,
  type Turn,
  turnedSize,
} from '@muted-pond/core/pixels';
import type { Framing, Limit, Recipe } from '@muted-pond/core/recipe';

/** A shape that the crop keeps, as it stands on the stage; null leaves it free. */
export interface CropShape {
  readonly id: string;
  readonly name: string;
  readonly size: Size | null;
  /** The destination whose numbers it has. */
  readonly limit: Limit | null;
}

const shape = (width: number, height: number): CropShape => ({
  id: `${width}:${height}`,
  name: `${width}:${height}`,
  size: { width, height },
  limit: null,
});

export const FREE: CropShape = { id: 'free', name: 'Free', size: null, limit: null };
export const SHAPES: readonly CropShape[] = [
  FREE,
  ...[shape(1, 1), shape(4, 5), shape(4, 3), shape(16, 9), shape(9, 16)],
];

/** Limits that ask for both numbers. */
export function limitShapes(limits: readonly Limit[]): CropShape[] {
  return limits.flatMap((limit) =>
    limit.height === null
      ? []
      : [{ id: limit.id, name: limit.name, size: { width: limit.width, height: limit.height }, limit }],
  );
}

export function shapeById(id: string, limits: readonly Limit[]): CropShape {
  return [...SHAPES, ...limitShapes(limits)].find((candidate) => candidate.id === id) ?? FREE;
}

/** The shape as the picture lies before it is turned. */
export function lyingShape(size: Size, turn: Turn): Size {
  return turnedSize(size, turn);
}

/**
 * The crop in a shape: as large as the one that was drawn and around its middle; the largest there is where
 * none was.
 * @param size the shape as it stands on the stage.
 */
export function cropToShape(picture: Size, { turn }: Framing, size: Size, drawn: Rect | null): Rect {
  const shape = lyingShape(size, turn);
  if (!drawn) return shapedRect(largestOfShape({ x: 0, y: 0, ...picture }, shape), shape, picture);
  const scale = Math.sqrt((drawn.width * drawn.height) / (shape.width * shape.height));
  const width = Math.min(scale, picture.width / shape.width, picture.height / shape.height) * shape.width;
  const height = (width * shape.height) / shape.width;
  const middle = { x: drawn.x + drawn.width / 2, y: drawn.y + drawn.height / 2 };
  return shapedRect({ x: middle.x - width / 2, y: middle.y - height / 2, width, height }, shape, picture);
}

/** Whole pixels with the shape kept as nearly as they can. */
export function shapedRect(wanted: Rect, size: Size, picture: Size): Rect {
  const most = Math.min(picture.width / size.width, picture.height / size.height);
  const scale = Math.min(most, wanted.width / size.width);
  return fitRect(
    {
      x: wanted.x,
      y: wanted.y,
      width: Math.floor(size.width * scale),
      height: Math.floor(size.height * scale),
    },
    picture,
  );
}

/** A crop that holds all of the picture is none. */
export function withCrop(recipe: Recipe, crop: Rect | null, picture: Size): Recipe {
  const isWhole = crop !== null && crop.width === picture.width && crop.height === picture.height;
  return { ...recipe, framing: { ...recipe.framing, crop: isWhole ? null : crop } };
}

/** Turned on by quarter turns; the crop stays on the same part of the picture. */
export function turnBy(recipe: Recipe, degrees: 90 | 270): Recipe {
  const { framing } = recipe;
  // Seen in a mirror, the other way round.
  const by = framing.mirror ? 360 - degrees : degrees;
  return { ...recipe, framing: { ...framing, turn: ((framing.turn + by) % 360) as Turn } };
}
