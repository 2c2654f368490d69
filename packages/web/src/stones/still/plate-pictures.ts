import { UserError } from '@muted-pond/core/errors';
import type { Size } from '@muted-pond/core/pixels';

/** Shapes that differ by less than this are the same. */
const SAME_SHAPE = 0.01;

export function isSameShape(one: Size, other: Size): boolean {
  return Math.abs(one.width / one.height / (other.width / other.height) - 1) <= SAME_SHAPE;
}

/** The size of a picture; null where it cannot be read here. */
export async function sizeOfPicture(file: Blob): Promise<Size | null> {
  const bitmap = await createImageBitmap(file).catch(() => null);
  if (!bitmap) return null;
  const { width, height } = bitmap;
  bitmap.close();
  return { width, height };
}

/** A picture drawn to a size of another shape: its middle, or all of it drawn out. PNG. */
export async function fitPicture(file: Blob, size: Size, how: 'cover' | 'stretch'): Promise<Blob> {
  const bitmap = await createImageBitmap(file);
  const canvas = new OffscreenCanvas(size.width, size.height);
  const context = canvas.getContext('2d');
  if (!context) throw new UserError('no_drawing', 'This browser cannot draw pictures.');
  context.imageSmoothingQuality = 'high';
  const scale = Math.max(size.width / bitmap.width, size.height / bitmap.height);
  const drawn =
    how === 'cover' ? { width: bitmap.width * scale, height: bitmap.height * scale } : { ...size };
  context.drawImage(
    bitmap,
    (size.width - drawn.width) / 2,
    (size.height - drawn.height) / 2,
    drawn.width,
    drawn.height,
  );
  bitmap.close();
  return canvas.convertToBlob({ type: 'image/png' });
}
