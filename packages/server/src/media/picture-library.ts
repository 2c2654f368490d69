import type { Sharp, SharpOptions } from 'sharp';

/** What is used of it: a file, or raw pixels, to a picture being worked on. */
type PictureLibrary = (input: string | Buffer | Uint8Array, options?: SharpOptions) => Sharp;

let loading: Promise<PictureLibrary> | null = null;

/** The reader and writer of pictures, loaded when the first one is met: footage does without. */
export function pictureLibrary(): Promise<PictureLibrary> {
  loading ??= load();
  return loading;
}

async function load(): Promise<PictureLibrary> {
  const { default: sharp } = await import('sharp');
  // Only what Gather promises can be read; nothing that draws, runs or names other files.
  sharp.block({ operation: ['VipsForeignLoad'] });
  sharp.unblock({
    operation: [
      ...['VipsForeignLoadJpeg', 'VipsForeignLoadPng', 'VipsForeignLoadWebp', 'VipsForeignLoadTiff'],
      ...['VipsForeignLoadHeif', 'VipsForeignLoadNsgif'],
    ],
  });
  sharp.cache(false);
  return sharp;
}
