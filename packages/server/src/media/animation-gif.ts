import { readFile, stat } from 'node:fs/promises';
import { UserError } from '@muted-pond/core/errors';
import { GifError, type GifFile, GifPlayer, maySeeThrough, readGif, unpackImage } from '@muted-pond/core/gif';
import { createResizer, type PixelFrame, type Size } from '@muted-pond/core/pixels';
import type { AnimationFacts, DecodedFrame, DecodeRequest, PictureFacts } from '../decoder/index.js';
import { MOST_PIXELS, TimeLimit } from '../ffmpeg/index.js';
import { clockOfDelays, MOST_UNPACKED } from './animation.js';
import { probePicture } from './picture.js';
import { encodeView } from './view-picture.js';

/** A GIF's bytes are held while it is read; larger ones are better brought in as the video they came from. */
const MOST_BYTES = 512 * 1024 ** 2;
/** Pixels that are unpacked to find out whether any is transparent. */
const MOST_LOOKED_THROUGH = 60e6;
const TIME_LIMIT_MS = 120_000;

/** An animated GIF; one with a single image is a picture. @throws UserError */
export async function probeGif(path: string, name: string): Promise<AnimationFacts | PictureFacts> {
  const file = await open(path, name);
  const { width, height, plays } = file;
  // An image in which the file breaks off may hold nothing at all.
  const last = file.images.length - 1;
  const { there } = unpackImage(file, file.images[last]);
  const images =
    file.breaksOff && there?.every((pixel) => pixel === 0) ? file.images.slice(0, -1) : file.images;
  if (images.length === 0) {
    throw new UserError(
      'no_picture',
      `“${name}” breaks off before its first picture. Copy or export it again.`,
    );
  }
  if (images.length === 1 && !file.breaksOff) return probePicture(path, name);
  return {
    reader: 'gif',
    kind: 'animation',
    container: 'gif',
    codec: 'gif',
    width,
    height,
    storedWidth: width,
    storedHeight: height,
    hasAlpha: maySeeThrough({ ...file, images }, MOST_LOOKED_THROUGH),
    plays,
    ...(file.breaksOff ? { breaksOff: { promisedSeconds: null, promisedFrames: null } } : {}),
    ...clockOfDelays(images.map((image) => image.delayCs * 10)),
  };
}

/** Files that were read last, the newest last: their frames are often asked for one after the other. */
let players: { readonly identity: string; readonly player: GifPlayer }[] = [];
const MOST_PLAYERS = 2;

export async function* decodeGif(request: DecodeRequest<AnimationFacts>): AsyncGenerator<DecodedFrame> {
  const { frames, path, name, facts, size, format, signal } = request;
  if (frames.length === 0) return;
  const player = await playerOf(path, name);
  const resizer = createResizer(facts, size);
  const limit = new TimeLimit(request.timeLimitMs ?? TIME_LIMIT_MS);
  for (const frame of frames) {
    if (signal?.aborted) return;
    limit.begin();
    const data = await give(resizer.resize(player.frame(frame)), size, format, facts.hasAlpha);
    if (limit.isOver) throw limit.error();
    limit.pause();
    yield { frame, data };
  }
}

async function playerOf(path: string, name: string): Promise<GifPlayer> {
  // Another file may be written under the same path.
  const { size, mtimeMs, ino } = await stat(path);
  const identity = `${path} ${ino} ${size} ${mtimeMs}`;
  const there = players.find((one) => one.identity === identity) ?? {
    identity,
    player: new GifPlayer(await open(path, name)),
  };
  players = [...players.filter((one) => one.identity !== identity), there].slice(-MOST_PLAYERS);
  return there.player;
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
    throw new UserError(
      'too_large',
      `“${name}” is larger than the ${MOST_BYTES / 1024 ** 2} MiB that a GIF may weigh. Bring in the video it came from.`,
    );
  }
  try {
    return readGif(await readFile(path), { pixels: MOST_PIXELS, total: MOST_UNPACKED });
  } catch (error) {
    if (!(error instanceof GifError)) throw error;
    const isTooMuch = /pixels allowed|can be unpacked/.test(error.message);
    throw new UserError(
      isTooMuch ? 'too_many_pixels' : 'no_picture',
      `“${name}” cannot be used. ${error.message} ${isTooMuch ? 'Make a smaller or shorter version of it.' : 'Copy or export it again.'}`,
    );
  }
}
