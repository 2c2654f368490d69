import type { Readable } from 'node:stream';
import { UserError } from '@muted-pond/core/errors';
import {
  colourFilters,
  type DecodedFrame,
  type DecodeRequest,
  rawFormatOf,
  rawOutput,
  rawPictures,
  takeFrames,
  type VideoFacts,
} from '../decoder/index.js';
import { FfmpegComplaint, runFfmpeg, SAFE_INPUT } from '../ffmpeg/index.js';
import { encodeView } from './view-picture.js';

type VideoRequest = DecodeRequest<VideoFacts>;

const TIME_LIMIT_MS = 120_000;

/**
 * Decodes exactly the frames asked for. The decoder seeks to the key frame before the first, and picks by
 * presentation time stamp, so frame n is frame n of the file whatever the frame rate does. Containers whose
 * seeking is not to be trusted may give too few frames then; the rest is decoded from the file's beginning. What
 * was read ahead comes first.
 */
export async function* decodeVideo(request: VideoRequest): AsyncGenerator<DecodedFrame> {
  const { frames, name, signal, facts } = request;
  const canSeek = facts.addressing === 'time' && facts.keyframes.length > 1;
  let given = 0;
  const ways = [
    takeFrames,
    ...(canSeek ? [(left: VideoRequest) => runOnce(left, true)] : []),
    (left: VideoRequest) => runOnce(left, false),
  ];
  for (const decode of ways) {
    for await (const decoded of decode({ ...request, frames: frames.slice(given) })) {
      given++;
      yield decoded;
    }
    if (given === frames.length || signal?.aborted) return;
  }
  throw new UserError(
    'decoder_failed',
    `“${name}” gives no picture for frame ${frames[given]}. It may be damaged there; choose another span or copy it again.`,
  );
}

/** One run of the decoder, as far as it gives frames. */
async function* runOnce(request: VideoRequest, seeks: boolean): AsyncGenerator<DecodedFrame> {
  const { frames, name, format, size, signal, facts } = request;
  if (frames.length === 0 || signal?.aborted) return;
  const isRaw = format === 'rgba' || facts.hasAlpha;
  const run = runFfmpeg(
    'ffmpeg',
    decoderArguments(request, seeks, isRaw),
    request.timeLimitMs ?? TIME_LIMIT_MS,
    { background: request.background },
  );
  const stop = () => run.stop();
  signal?.addEventListener('abort', stop, { once: true });
  let given = 0;
  try {
    const pictures = isRaw ? rawPictures(run.stdout, size, rawFormatOf(facts)) : splitJpegs(run.stdout);
    for await (const data of pictures) {
      if (given >= frames.length) break;
      run.limit.pause();
      const picture = isRaw && format === 'view' ? await encodeView(data, size, true) : data;
      yield { frame: frames[given++], data: picture };
      run.limit.begin();
    }
    await run.ended.catch((error: unknown) => {
      if (!(error instanceof FfmpegComplaint)) throw error;
      if (given === frames.length) return; // what it complains of lies behind them
      if (seeks) return; // what is missing is tried again from the beginning
      throw new UserError(
        'decoder_failed',
        `“${name}” could not be decoded at frame ${frames[Math.min(given, frames.length - 1)]}. It may be damaged there; copy or export it again.`,
      );
    });
  } finally {
    signal?.removeEventListener('abort', stop);
    run.stop();
  }
}

function decoderArguments(request: VideoRequest, seeks: boolean, isRaw: boolean): string[] {
  const { path, facts, frames, size, format } = request;
  const { interlaced, addressing, ticks } = facts;
  const filters = [
    ...(interlaced ? ['bwdif=mode=send_frame'] : []),
    `select='${pickExpression(frames, addressing === 'time' ? { variable: 'pts', at: ticks, per: interlaced ? 2 : 1 } : COUNTED)}'`,
    ...colourFilters(facts, size, format === 'rgba'),
    ...(isRaw ? [] : ['format=rgb24', 'scale=out_color_matrix=bt601:out_range=pc', ...EVENLY_SPACED]),
  ];
  const output = isRaw
    ? [...rawOutput(rawFormatOf(facts)), '-f', 'rawvideo']
    : ['-enc_time_base', '1/25', '-pix_fmt', 'yuvj444p', '-c:v', 'mjpeg', '-q:v', '3', '-f', 'mpjpeg'];
  return [
    ...['-hide_banner', '-nostdin', '-v', 'error'],
    ...SAFE_INPUT,
    ...(seeks
      ? ['-seek_timestamp', '1', '-noaccurate_seek', '-ss', seekSeconds(facts, frames[0]).toFixed(6)]
      : []),
    ...alphaDecoder(facts),
    ...['-i', `file:${path}`, '-copyts', '-map', '0:V:0'],
    ...['-vf', filters.join(',')],
    ...['-fps_mode', 'passthrough', '-frames:v', String(frames.length)],
    ...output,
    'pipe:1',
  ];
}

/** The encoder of the pictures counts in coarse steps, in which frames of uneven times would meet. */
const EVENLY_SPACED = ['settb=1/25', 'setpts=N'];

/** The usual decoders of VP8 and VP9 leave the alpha aside. */
function alphaDecoder({ hasAlpha, codec }: VideoFacts): string[] {
  if (!hasAlpha) return [];
  const decoder = { vp8: 'libvpx', vp9: 'libvpx-vp9' }[codec];
  return decoder ? ['-c:v', decoder] : [];
}

/**
 * De-interlacing looks at the frame before, which must be decoded too: then a frame is the same however it is
 * reached.
 */
function seekSeconds({ ticks, timeBase, keyframes, interlaced }: VideoFacts, frame: number): number {
  const from = interlaced ? frame - 1 : frame;
  const key = keyframes.findLast((candidate) => candidate <= from) ?? 0;
  return (ticks[key] * timeBase[0]) / timeBase[1];
}

/** What frames are picked by in the decoder's expression. */
interface Address {
  readonly variable: 'pts' | 'n';
  /** The variable's value for each frame; the frame's number where not given. */
  readonly at?: readonly number[];
  /** De-interlacing halves the time base. */
  readonly per: number;
}

const COUNTED: Address = { variable: 'n', per: 1 };

/** Runs of neighbouring frames become one range each. */
function pickExpression(frames: readonly number[], { variable, at, per }: Address): string {
  const value = (frame: number) => (at ? at[frame] * per : frame);
  const terms: string[] = [];
  for (let from = 0; from < frames.length; ) {
    let to = from;
    while (to + 1 < frames.length && frames[to + 1] === frames[to] + 1) to++;
    terms.push(
      to === from
        ? `eq(${variable},${value(frames[from])})`
        : `between(${variable},${value(frames[from])},${value(frames[to])})`,
    );
    from = to + 1;
  }
  return terms.join('+');
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
