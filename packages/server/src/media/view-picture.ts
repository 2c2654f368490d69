import type { Size } from '@muted-pond/core/pixels';
import { pictureLibrary } from './picture-library.js';

const QUALITY = 88;

/** Raw RGBA to a picture for the eye: JPEG; WebP where it is transparent. */
export async function encodeView(rgba: Buffer, { width, height }: Size, hasAlpha: boolean): Promise<Buffer> {
  const open = await pictureLibrary();
  const picture = open(rgba, { raw: { width, height, channels: 4 } });
  return hasAlpha
    ? picture.webp({ quality: QUALITY, alphaQuality: 100, effort: 1 }).toBuffer()
    : picture.removeAlpha().jpeg({ quality: QUALITY, chromaSubsampling: '4:4:4' }).toBuffer();
}

/** The MIME type of a picture that `encodeView` made. */
export function viewType(picture: Buffer): 'image/jpeg' | 'image/webp' {
  return picture[0] === 0xff ? 'image/jpeg' : 'image/webp';
}

/** One byte a pixel, without loss. */
export async function encodeGreyPng(values: Uint8Array, { width, height }: Size): Promise<Buffer> {
  const open = await pictureLibrary();
  return open(values, { raw: { width, height, channels: 1 } })
    .png()
    .toBuffer();
}

/** RGBA8 without loss. @param hasAlpha whether alpha is kept. */
export async function encodePng(
  rgba: Uint8Array,
  { width, height }: Size,
  hasAlpha: boolean,
): Promise<Buffer> {
  const open = await pictureLibrary();
  const picture = open(rgba, { raw: { width, height, channels: 4 } });
  return (hasAlpha ? picture : picture.removeAlpha()).png().toBuffer();
}
