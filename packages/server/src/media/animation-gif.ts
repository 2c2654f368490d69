import { readFile, stat } from 'node:fs/promises';
import { composeGif, GifError, type GifFile, readGif } from '@muted-pond/core/gif';
import { createResizer, type PixelFrame, type Size } from '@muted-pond/core/pixels';
import { clockOfDelays } from './animation.js';
import type { DecodedFrame, DecodeRequest } from './decode-request.js';
import { MOST_PIXELS } from './decoder-process.js';
import type { AnimationFacts, PictureFacts } from './facts.js';
import { MediaError } from './media-error.js';
import { probePicture } from './picture.js';
import { encodeView } from './view-picture.js';

/** A GIF is read whole; larger ones are better brought in as the video they came from. */
const MOST_BYTES = 512 * 1024 ** 2;

/** An animated GIF; one with a single image is a picture. @throws MediaError */
export async function probeGif(path: string, name: string): Promise<AnimationFacts | PictureFacts> {
  const file = await open(path, name);
  const last = file.images[file.images.length - 1];
  if (last.cutShort) {
    throw new MediaError(
      'cut_short',
      `“${name}” is cut short: its frame ${file.images.length - 1} breaks off. Copy or export it again.`,
    );
  }
  const { width, height, plays, images } = file;
  if (images.length === 1) return probePicture(path, name);
  return {
    reader: 'gif',
    kind: 'animation',
    container: 'gif',
    codec: 'gif',
    width,
    height,
    storedWidth: width,
    storedHeight: height,
    hasAlpha: canBeSeenThrough(file),
    plays,
    ...clockOfDelays(images.map((image) => image.delayCs * 10)),
  };
}

export async function* decodeGif(request: DecodeRequest<AnimationFacts>): AsyncGenerator<DecodedFrame> {
  const { frames, path, name, facts, size, format, signal } = request;
  if (frames.length === 0) return;
  const wanted = new Set(frames);
  const resizer = createResizer(facts, size);
  let frame = 0;
  for (const picture of composeGif(await open(path, name))) {
    if (signal?.aborted || frame > frames[frames.length - 1]) return;
    if (wanted.has(frame))
      yield { frame, data: await give(resizer.resize(picture), size, format, facts.hasAlpha) };
    frame++;
    // Others get their turn between frames.
    if (format === 'view') await new Promise((resolve) => setImmediate(resolve));
  }
}

async function give(
  { rgba }: PixelFrame,
  size: Size,
  format: DecodeRequest['format'],
  hasAlpha: boolean,
): Promise<Buffer> {
  const bytes = Buffer.from(rgba.buffer, rgba.byteOffset, rgba.length);
  return format === 'rgba' ? bytes : encodeView(bytes, size, hasAlpha);
}

async function open(path: string, name: string): Promise<GifFile> {
  if ((await stat(path)).size > MOST_BYTES) {
    throw new MediaError(
      'too_large',
      `“${name}” is larger than the ${MOST_BYTES / 1024 ** 2} MiB that a GIF may weigh. Bring in the video it came from.`,
    );
  }
  try {
    return readGif(await readFile(path), { pixels: MOST_PIXELS });
  } catch (error) {
    if (!(error instanceof GifError)) throw error;
    const tooLarge = /pixels allowed/.test(error.message);
    throw new MediaError(
      tooLarge ? 'too_many_pixels' : 'no_picture',
      `“${name}” cannot be used. ${error.message} ${tooLarge ? 'Make a smaller version of it.' : 'Copy or export it again.'}`,
    );
  }
}

/** Whether a viewer sees through any of its frames: found by looking, since most GIFs only use it for what stays. */
function canBeSeenThrough(file: GifFile): boolean {
  for (const { rgba } of composeGif(file)) {
    for (let at = 3; at < rgba.length; at += 4) if (rgba[at] < 255) return true;
  }
  return false;
}
