import { UserError } from '@muted-pond/core/errors';
import type { Size } from '@muted-pond/core/pixels';
import type { Sharp, SharpOptions } from 'sharp';
import type { DecodedFrame, DecodeRequest, PictureFacts } from '../decoder/index.js';
import { pictureLibrary } from './picture-library.js';
import { encodeView } from './view-picture.js';

/** More pixels than this in one picture are refused before anything is decoded. */
const MOST_PICTURE_PIXELS = 120e6;

/** @param input a path, or a file's bytes. */
export async function openPicture(input: string | Buffer, options: SharpOptions = {}): Promise<Sharp> {
  const open = await pictureLibrary();
  return open(input, { failOn: 'truncated', limitInputPixels: MOST_PICTURE_PIXELS, ...options });
}

/**
 * One picture, also where it breaks off but shows something.
 * @throws UserError
 */
export async function probeShownPicture(path: string, name: string): Promise<PictureFacts> {
  const facts = await probePicture(path, name);
  try {
    await assertWhole(path, name);
    return facts;
  } catch (error) {
    const cut = { ...facts, breaksOff: { promisedSeconds: null, promisedFrames: null } };
    try {
      await look(path, LENIENT);
      return cut;
    } catch {
      throw error;
    }
  }
}

/** A picture that breaks off is shown as far as it goes. */
const LENIENT: SharpOptions = { failOn: 'none' };

/** @throws UserError unless every pixel can be read. */
export async function assertWhole(path: string, name: string): Promise<void> {
  await look(path).catch((error: unknown) => {
    throw unreadable(name, error);
  });
}

/** Reads all of it, and keeps next to nothing. */
async function look(path: string, options: SharpOptions = {}): Promise<void> {
  const picture = await openPicture(path, { sequentialRead: true, ...options });
  await picture.resize(16, 16, { fit: 'fill', fastShrinkOnLoad: false }).raw().toBuffer();
}

/** What a picture's header says: PNG, JPEG, WebP, AVIF, TIFF or a GIF of one image. @throws UserError */
export async function probePicture(path: string, name: string): Promise<PictureFacts> {
  const picture = await openPicture(path, { limitInputPixels: false });
  const header = await picture.metadata().catch((error: unknown) => {
    throw unreadable(name, error);
  });
  const { width = 0, height = 0, orientation = 1, hasAlpha = false, format = 'picture' } = header;
  if (width * height > MOST_PICTURE_PIXELS) {
    throw new UserError(
      'too_many_pixels',
      `“${name}” claims ${width} × ${height} px; at most ${MOST_PICTURE_PIXELS / 1e6} million pixels can be used. Make a smaller version of it.`,
    );
  }
  const lies = orientation >= 5;
  return {
    reader: 'picture',
    kind: 'picture',
    container: format,
    codec: header.compression === 'av1' ? 'avif' : format,
    width: lies ? height : width,
    height: lies ? width : height,
    storedWidth: width,
    storedHeight: height,
    hasAlpha,
    turned: orientation > 1,
    bits: header.bitsPerSample ?? (header.depth === 'ushort' ? 16 : 8),
    hasProfile: header.hasProfile === true,
    timeBase: [1, 1],
    ticks: [0],
    durationTicks: 1,
  };
}

export async function* decodePicture(request: DecodeRequest<PictureFacts>): AsyncGenerator<DecodedFrame> {
  const { path, name, frames, size, format, facts } = request;
  if (frames.length === 0) return;
  // Shrunk while it is read, so that a huge picture takes no more memory than a small one.
  const opened = await openPicture(path, { sequentialRead: true, ...(facts.breaksOff ? LENIENT : {}) });
  const upright = opened.autoOrient().toColourspace('srgb').ensureAlpha();
  const sized = isSize(facts, size)
    ? upright
    : upright.resize(size.width, size.height, {
        fit: 'fill',
        kernel: 'cubic',
        fastShrinkOnLoad: format === 'view',
      });
  const rgba = await sized
    .raw({ depth: 'uchar' })
    .toBuffer()
    .catch((error: unknown) => {
      throw unreadable(name, error);
    });
  yield { frame: frames[0], data: format === 'rgba' ? rgba : await encodeView(rgba, size, facts.hasAlpha) };
}

/** Raw RGBA in another size. */
export async function sizeAsWanted(rgba: Buffer, from: Size, to: Size): Promise<Buffer> {
  if (isSize(from, to)) return rgba;
  const open = await pictureLibrary();
  return open(rgba, { raw: { width: from.width, height: from.height, channels: 4 } })
    .resize(to.width, to.height, { fit: 'fill', kernel: 'cubic' })
    .raw()
    .toBuffer();
}

function isSize(a: Size, b: Size): boolean {
  return a.width === b.width && a.height === b.height;
}

/** Turns the reader's complaint into a sentence. */
export function unreadable(name: string, error: unknown): UserError {
  const complaint = error instanceof Error ? error.message : String(error);
  if (/exceeds pixel limit|dimensions exceed|too large|maximum/i.test(complaint)) {
    return new UserError(
      'too_many_pixels',
      `“${name}” claims more pixels than can be used (${MOST_PICTURE_PIXELS / 1e6} million). Make a smaller version of it.`,
    );
  }
  if (/not been built|unsupported codec|unsupported feature|compression format/i.test(complaint)) {
    return new UserError(
      'not_a_video',
      `“${name}” is of a kind of picture that cannot be read here, such as HEIC. Save it as JPEG or PNG.`,
    );
  }
  return new UserError(
    'cut_short',
    `“${name}” is cut short or damaged and cannot be read as a picture. Copy or export it again.`,
  );
}
