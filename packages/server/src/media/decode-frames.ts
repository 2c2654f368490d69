import type { Readable } from 'node:stream';
import type { Size } from '@muted-pond/core/pixels';
import { DecoderComplaint, runDecoder, SAFE_INPUT } from './decoder-process.js';
import { MediaError } from './media-error.js';
import type { VideoFacts } from './probe.js';

/** RGBA8 as PixelFrame holds it, or JPEG files for the eye. */
export type FrameFormat = 'rgba' | 'jpeg';

export interface DecodeRequest {
  readonly path: string;
  /** What the user calls the file, for messages. */
  readonly name: string;
  readonly facts: VideoFacts;
  /** Source frames, ascending, none twice. */
  readonly frames: readonly number[];
  readonly size: Size;
  readonly format: FrameFormat;
  readonly timeLimitMs?: number;
  /** Work that nobody waits for gives way to work that somebody does. */
  readonly background?: boolean;
  /** Ends the decoder at once; the generator then returns. */
  readonly signal?: AbortSignal;
}

export interface DecodedFrame {
  readonly frame: number;
  readonly data: Buffer;
}

const TIME_LIMIT_MS = 120_000;

/**
 * Decodes exactly the frames asked for: upright, de-interlaced, square pixels, sRGB, at the wanted size.
 * The decoder seeks to the key frame before the first, and picks by presentation time stamp, so frame n
 * is frame n of the file whatever the frame rate does.
 * @throws MediaError if the file gives fewer frames than were asked for.
 */
export async function* decodeFrames(request: DecodeRequest): AsyncGenerator<DecodedFrame> {
  const { frames, format, size, signal } = request;
  if (frames.length === 0 || signal?.aborted) return;
  const run = runDecoder(
    'ffmpeg',
    decoderArguments(request),
    request.timeLimitMs ?? TIME_LIMIT_MS,
    request.background,
  );
  const stop = () => run.stop();
  signal?.addEventListener('abort', stop, { once: true });
  let given = 0;
  try {
    const pictures =
      format === 'rgba' ? splitBySize(run.stdout, size.width * size.height * 4) : splitJpegs(run.stdout);
    for await (const data of pictures) {
      if (given >= frames.length) break;
      yield { frame: frames[given++], data };
    }
    await run.ended.catch((error: unknown) => {
      if (!(error instanceof DecoderComplaint)) throw error;
      throw new MediaError(
        'decoder_failed',
        `“${request.name}” could not be decoded at frame ${frames[Math.min(given, frames.length - 1)]}. It may be damaged there; copy or export it again.`,
      );
    });
    if (given < frames.length && !signal?.aborted) {
      throw new MediaError(
        'decoder_failed',
        `“${request.name}” gives no picture for frame ${frames[given]}. It may be damaged there; choose another span or copy it again.`,
      );
    }
  } finally {
    signal?.removeEventListener('abort', stop);
    run.stop();
  }
}

function decoderArguments({ path, facts, frames, size, format }: DecodeRequest): string[] {
  const seconds = (facts.ticks[keyframeBefore(facts, frames[0])] * facts.timeBase[0]) / facts.timeBase[1];
  const filters = [`select='${pickExpression(facts.ticks, frames)}'`, ...uprightFilters(facts, size, format)];
  const output =
    format === 'rgba'
      ? ['-pix_fmt', 'rgba', '-f', 'rawvideo']
      : ['-pix_fmt', 'yuvj444p', '-c:v', 'mjpeg', '-q:v', '3', '-f', 'mpjpeg'];
  if (format === 'jpeg') filters.push('format=rgb24', 'scale=out_color_matrix=bt601:out_range=pc');
  return [
    ...['-hide_banner', '-nostdin', '-v', 'error'],
    ...SAFE_INPUT,
    ...['-seek_timestamp', '1', '-noaccurate_seek', '-ss', seconds.toFixed(6)],
    ...['-i', `file:${path}`, '-copyts', '-map', '0:V:0'],
    ...['-vf', filters.join(',')],
    ...['-fps_mode', 'passthrough', '-frames:v', String(frames.length)],
    ...output,
    'pipe:1',
  ];
}

function keyframeBefore(facts: VideoFacts, frame: number): number {
  let best = 0;
  for (const key of facts.keyframes) {
    if (key > frame) break;
    best = key;
  }
  return best;
}

/** Runs of neighbouring frames become one range each. */
function pickExpression(ticks: readonly number[], frames: readonly number[]): string {
  const terms: string[] = [];
  for (let from = 0; from < frames.length; ) {
    let to = from;
    while (to + 1 < frames.length && frames[to + 1] === frames[to] + 1) to++;
    terms.push(
      to === from
        ? `eq(pts,${ticks[frames[from]]})`
        : `between(pts,${ticks[frames[from]]},${ticks[frames[to]]})`,
    );
    from = to + 1;
  }
  return terms.join('+');
}

/** Pixel formats that hold red, green and blue: nothing is to be converted. */
const RGB_FORMATS = /^(gbr|rgb|bgr|argb|abgr|0rgb|0bgr|pal8)/;

/** The decoder turns upright by itself; the rest is said here. */
function uprightFilters(facts: VideoFacts, size: Size, format: FrameFormat): string[] {
  const isRgb = RGB_FORMATS.test(facts.pixelFormat);
  const sameSize = size.width === facts.width && size.height === facts.height && facts.pixelAspect === 1;
  const filters = facts.interlaced ? ['bwdif=mode=send_frame'] : [];
  if (isRgb && sameSize) return filters;
  const colours = isRgb
    ? []
    : [`in_color_matrix=${facts.matrix}`, `in_range=${facts.range === 'full' ? 'pc' : 'tv'}`];
  const scale = [
    `w=${size.width}`,
    `h=${size.height}`,
    ...colours,
    // To the last bit for the file; twice as fast for the eye.
    `flags=bicubic${format === 'rgba' ? '+accurate_rnd+full_chroma_int+full_chroma_inp' : ''}`,
  ].join(':');
  return [...filters, `scale=${scale}`, 'setsar=1'];
}

async function* splitBySize(stream: Readable, bytes: number): AsyncGenerator<Buffer> {
  let picture = Buffer.allocUnsafeSlow(bytes);
  let filled = 0;
  for await (const chunk of stream as AsyncIterable<Buffer>) {
    let at = 0;
    while (at < chunk.length) {
      const take = Math.min(bytes - filled, chunk.length - at);
      chunk.copy(picture, filled, at, at + take);
      filled += take;
      at += take;
      if (filled === bytes) {
        yield picture;
        picture = Buffer.allocUnsafeSlow(bytes);
        filled = 0;
      }
    }
  }
}

const PART_HEADER_END = Buffer.from('\r\n\r\n');

/** Splits a multipart stream whose parts say their length (RFC 2046, 5.1). */
async function* splitJpegs(stream: Readable): AsyncGenerator<Buffer> {
  let waiting: Buffer = Buffer.alloc(0);
  for await (const chunk of stream as AsyncIterable<Buffer>) {
    waiting = waiting.length === 0 ? chunk : Buffer.concat([waiting, chunk]);
    for (;;) {
      const headerEnd = waiting.indexOf(PART_HEADER_END);
      if (headerEnd < 0) break;
      const length = /content-length:\s*(\d+)/i.exec(waiting.toString('latin1', 0, headerEnd));
      const from = headerEnd + PART_HEADER_END.length;
      const to = from + Number(length?.[1] ?? 0);
      if (waiting.length < to) break;
      yield waiting.subarray(from, to);
      waiting = waiting.subarray(to);
    }
  }
}
