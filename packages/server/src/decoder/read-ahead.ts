import { PassThrough, Readable } from 'node:stream';
import type { Size } from '@muted-pond/core/pixels';
import { type FfmpegRun, runFfmpeg, SAFE_INPUT } from '../ffmpeg/index.js';
import { areMostFilters, mostColourFilters } from './colour-filters.js';
import type { DecodedFrame, DecodeRequest } from './decode-request.js';
import type { VideoFacts } from './facts.js';
import { type HeaderText, readHeaderText } from './header-text.js';
import { rawOutput, rawPictures } from './raw-pictures.js';

/** Pictures that may wait here until somebody asks for them, bytes. */
const MOST_WAITING = 96 * 1024 ** 2;
/** Pictures that wait in the decoder itself while this process is busy. */
const QUEUED_PICTURES = 16;
const TIME_LIMIT_MS = 120_000;
/** Where a smaller share of what is decoded is wanted, a decoder that knows what is wanted is sooner done. */
const LEAST_SHARE = 0.5;

/** A video that is decoded before its headers are known. */
interface Reading {
  readonly headers: Promise<HeaderText>;
  readonly run: FfmpegRun;
  readonly pictures: Promise<AsyncIterable<ReadPicture>>;
}

/** What the decoder tells of a picture before it gives it. */
interface ToldPicture extends Size {
  /** When it is shown. */
  readonly tick: number;
}

interface ReadPicture extends ToldPicture {
  /** RGBA8. */
  readonly data: Buffer;
}

const readings = new Map<string, Reading>();

/**
 * Starts to decode a video before its headers are known: a request for its headers or frames soon after finds
 * them under way. All frames are decoded, at their own size, with the colours of nearly all footage; where
 * something else is wanted or the footage is not like that, this is dropped and nothing is lost but the
 * start.
 */
export function readAhead(path: string): void {
  const log = new PassThrough({ objectMode: true });
  const run = runFfmpeg('ffmpeg', decoderArguments(path), TIME_LIMIT_MS, {
    onLog: (line) => log.write(line),
  });
  // Errors of the file are reported by the regular read.
  run.ended.catch(() => {}).finally(() => log.end());
  const headers = readHeaderText(path);
  headers.catch(() => {});
  const pictures = queuePictures(run, picturesIn(log));
  pictures.catch(() => {});
  readings.set(path, { headers, run, pictures });
}

/** The pictures, read before they are asked for, as far as there is room. */
async function queuePictures(
  run: FfmpegRun,
  told: AsyncGenerator<ToldPicture, undefined>,
): Promise<AsyncIterable<ReadPicture>> {
  const { value: first } = await told.next();
  if (!first) return Readable.from([]);
  const highWaterMark = Math.max(1, Math.floor(MOST_WAITING / (first.width * first.height * 4)));
  const queue = Readable.from(readPictures(run, first, told), { highWaterMark });
  // Whoever takes them hears of what went wrong; it may be that nobody does.
  queue.on('error', () => {});
  // Begins to fill it.
  queue.read(0);
  return queue;
}

/** Pictures as long as they are as large as the first. */
async function* readPictures(
  run: FfmpegRun,
  first: ToldPicture,
  told: AsyncGenerator<ToldPicture, undefined>,
): AsyncGenerator<ReadPicture> {
  let picture: ToldPicture | undefined = first;
  for await (const data of rawPictures(run.stdout, first, 'gbrp')) {
    if (picture?.width !== first.width || picture.height !== first.height) return;
    run.limit.pause();
    yield { ...picture, data };
    run.limit.begin();
    picture = (await told.next()).value;
  }
}

/** Ends what was begun and nobody has asked for. */
export function stopReadingAhead(): void {
  for (const { run } of readings.values()) run.stop();
  readings.clear();
}

/** The headers of a video that is being read ahead; null for any other. */
export function takeHeaders(path: string): Promise<HeaderText> | null {
  return readings.get(path)?.headers ?? null;
}

/**
 * Gives the wanted frames as far as they were read ahead and are what was asked for, from the first on without a
 * gap; none where the file was not, or was read otherwise. What was begun is used up by the first who asks.
 */
export async function* takeFrames(request: DecodeRequest<VideoFacts>): AsyncGenerator<DecodedFrame> {
  const { path, facts, frames, size, signal } = request;
  const reading = readings.get(path);
  if (!reading || frames.length === 0) return;
  readings.delete(path);
  const { run, pictures } = reading;
  const stop = () => run.stop();
  signal?.addEventListener('abort', stop, { once: true });
  try {
    if (!isOfUse(request)) return;
    let place = 0;
    for await (const { tick, width, height, data } of await pictures) {
      const frame = frames[place];
      if (width !== size.width || height !== size.height || tick > facts.ticks[frame]) return;
      if (tick < facts.ticks[frame]) continue;
      yield { frame, data };
      if (++place === frames.length) return;
    }
  } finally {
    signal?.removeEventListener('abort', stop);
    stop();
  }
}

function isOfUse({ facts, frames, size, format }: DecodeRequest<VideoFacts>): boolean {
  const share = frames.length / (frames[frames.length - 1] + 1);
  return (
    format === 'rgba' && facts.addressing === 'time' && share >= LEAST_SHARE && areMostFilters(facts, size)
  );
}

/** What the filter `showinfo` writes of each picture before it is given. */
const TOLD = /^\[Parsed_showinfo.*\] n: *\d+ pts: *(-?\d+) .* s:(\d+)x(\d+) /;

async function* picturesIn(lines: AsyncIterable<string>): AsyncGenerator<ToldPicture, undefined> {
  for await (const line of lines) {
    const [, ...numbers] = TOLD.exec(line) ?? [];
    const [tick, width, height] = numbers.map(Number);
    if (height) yield { tick, width, height };
  }
}

function decoderArguments(path: string): string[] {
  return [
    ...['-hide_banner', '-nostdin', '-nostats', '-v', 'info'],
    ...SAFE_INPUT,
    ...['-i', `file:${path}`, '-copyts', '-map', '0:V:0'],
    ...['-vf', ['showinfo=checksum=0', ...mostColourFilters()].join(',')],
    ...['-fps_mode', 'passthrough', ...rawOutput('gbrp')],
    ...['-f', 'fifo', '-fifo_format', 'rawvideo', '-queue_size', String(QUEUED_PICTURES)],
    'pipe:1',
  ];
}
