import type { PixelFrame } from '../pixels/index.js';
import { composeGif } from './player.js';
import type { GifFile } from './reader.js';

/**
 * What a viewer shows when each frame of a reel is due: one picture per delay, whether the file holds an
 * image for it or lengthened the one before.
 * @param delaysCs the reel's delays, centiseconds.
 * @throws RangeError when the file's own delays do not add up to the reel's.
 */
export function* playGif(file: GifFile, delaysCs: readonly number[]): Generator<PixelFrame> {
  const written = file.images.reduce((sum, image) => sum + image.delayCs, 0);
  const wanted = delaysCs.reduce((sum, delay) => sum + delay, 0);
  if (written !== wanted) {
    throw new RangeError(`The file lasts ${written} hundredths of a second, the reel ${wanted}.`);
  }
  const pictures = composeGif(file);
  let picture: PixelFrame | null = null;
  let image = 0;
  let until = 0;
  let due = 0;
  for (const delay of delaysCs) {
    while (picture === null || due >= until) {
      const next = pictures.next();
      if (next.done) break;
      picture = next.value;
      until += file.images[image++].delayCs;
    }
    if (picture) yield picture;
    due += delay;
  }
}
