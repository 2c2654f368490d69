import { createFrame, type PixelFrame } from '@muted-pond/core/pixels';
import { pictureLibrary } from '../../media/index.js';

/** A picture without loss; RGB where nothing is transparent. */
export async function encodePng({ width, height, rgba }: PixelFrame): Promise<Uint8Array> {
  const sharp = await pictureLibrary();
  const picture = sharp(rgba, { raw: { width, height, channels: 4 } });
  const { isOpaque } = await picture.stats();
  return (isOpaque ? picture.removeAlpha() : picture)
    .png({ compressionLevel: 9, adaptiveFiltering: true })
    .toBuffer();
}

export async function decodePng(bytes: Uint8Array): Promise<PixelFrame> {
  const sharp = await pictureLibrary();
  const { data, info } = await sharp(bytes).ensureAlpha().raw().toBuffer({ resolveWithObject: true });
  return createFrame(info.width, info.height, new Uint8Array(data));
}
