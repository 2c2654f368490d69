import { PassThrough, type Readable } from 'node:stream';
import type { Size } from '@muted-pond/core/pixels';
import { areMostFilters, mostColourFilters } from './colour-filters.js';
import type { DecodedFrame, DecodeRequest } from './decode-request.js';
import { type DecoderRun, runDecoder, SAFE_INPUT } from './decoder-process.js';
import type { VideoFacts } from './facts.js';
import { type HeaderText, readHeaderText } from './header-text.js';
import { rawOutput, rawPictures } from './raw-pictures.js';

/** Decoded pictures that may wait here until somebody asks for them, bytes. */
const MOST_WAITING = 96 * 1024 ** 2;
/** Pictures that wait in the decoder itself while this process is busy. */
const QUEUED_PICTURES = 8;
const TIME_LIMIT_MS = 120_000;
/** Where a smaller share of what is decoded is wanted, a decoder that knows what is wanted is sooner done. */
const LEAST_SHARE = 0.5;

/** A video that is read before anybody knows what it is. */
interface Reading {
  readonly headers: Promise<HeaderText>;
  readonly run: DecoderRun;
  readonly pictures: Readable;
  /** What the decoder tells of each picture, in their order. */
  readonly told: AsyncGenerator<ToldPicture>;
}

interface ToldPicture extends Size {
  /** When it is shown. */
  readonly tick: number;
}

const readings = new Map<string, Reading>();

/**
 * Begins to read a video before anybody knows what it is: whoever asks for its headers or its frames soon after
 * finds them begun. All frames are decoded, at their own size, with the colours of nearly all footage; where
 * something else is wanted or the footage is not like that, this is dropped and nothing is lost but the start.
 */
export function readAhead(path: string): void {
  const log = new PassThrough({ objectMode: true });
  const run = runDecoder('ffmpeg', decoderArguments(path), TIME_LIMIT_MS, {
    onLog: (line) => log.write(line),
  });
  // What is wrong with the file is found by whoever reads it knowing what it is.
  run.ended.catch(() => {}).finally(() => log.end());
  const pictures = run.stdout.pipe(new PassThrough({ highWaterMark: MOST_WAITING }));
  // Nobody asks for them before the engine is loaded; until then the decoder is to have the processor.
  const headers = readHeaderText(path, true);
  headers.catch(() => {});
  readings.set(path, { headers, run, pictures, told: picturesIn(log) });
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
  const { run, pictures, told } = reading;
  const stop = () => run.stop();
  signal?.addEventListener('abort', stop, { once: true });
  try {
    if (!isOfUse(request)) return;
    let place = 0;
    for await (const data of rawPictures(pictures, size, 'gbrp')) {
      run.limit.pause();
      const { value: picture } = await told.next();
      const frame = frames[place];
      const tick = facts.ticks[frame];
      if (!picture || picture.width !== size.width || picture.height !== size.height) return;
      if (picture.tick > tick) return;
      if (picture.tick === tick) {
        yield { frame, data };
        if (++place === frames.length) return;
      }
      run.limit.begin();
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
