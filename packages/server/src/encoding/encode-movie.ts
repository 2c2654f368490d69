import { once } from 'node:events';
import { open, readFile } from 'node:fs/promises';
import { join } from 'node:path';
import { UserError } from '@muted-pond/core/errors';
import type { PixelFrame, Size } from '@muted-pond/core/pixels';
import { diskFull } from '../disk-full.js';
import { FfmpegComplaint, runFfmpeg } from '../ffmpeg/index.js';
import { openScratch } from '../scratch/index.js';
import { assertEncoder, type Encoder } from './encoders.js';
import { type MovieTimes, timingFilters, timingInput } from './movie-times.js';

/** Long enough for the longest reels; a hand can stop it sooner. */
const TIME_LIMIT_MS = 30 * 60_000;

export interface MovieWish {
  readonly encoder: Encoder;
  /** Of the frames, px. */
  readonly size: Size;
  readonly times: MovieTimes;
  /** How often all frames stand in the movie one after the other. */
  readonly rounds: number;
  readonly container: 'mp4' | 'webm' | 'avif';
  /** Encoder, quality and pixel format; of two passes with their bit rate. */
  readonly options: readonly string[];
  /** Between the frames and the encoder. */
  readonly filters: readonly string[];
  /** Where a file has colours and alpha in two tracks: what comes after the filters, up to their names. */
  readonly graph?: readonly string[];
  /**
   * The most bytes: the bit rate for a pass of its own is worked out from them, so the frames are kept until
   * all are there.
   */
  readonly mostBytes?: number;
  readonly onFrame: (count: number) => void;
}

/** A movie being made. */
export interface MovieEncoding {
  /** Takes the next frames. */
  add(frames: readonly PixelFrame[]): Promise<void>;
  /** The finished file as the encoder wrote it. */
  finish(): Promise<Uint8Array>;
  /** Aborts the encoder; does nothing where it has ended. */
  abandon(): Promise<void>;
}

/**
 * Starts an encoder that is fed frame by frame. Frames that are needed more than once, for a second pass or
 * another round, are kept in a file until all are there.
 * @throws UserError encoder_missing, encoder_failed, disk_full, too_heavy.
 */
export async function startMovie(wish: MovieWish): Promise<MovieEncoding> {
  await assertEncoder(wish.encoder);
  const scratch = await openScratch();
  const isKept = wish.rounds > 1 || wish.mostBytes !== undefined;
  const kept = join(scratch.path, 'frames.rgba');
  const file = join(scratch.path, `movie.${wish.container}`);
  let run = isKept ? null : runEncoder(wish, file, 'pipe:0', []);
  const raw = isKept ? await open(kept, 'w') : null;
  let count = 0;

  async function work(input: string, extra: readonly string[]): Promise<void> {
    run = runEncoder(wish, file, input, extra);
    await run.ended.catch(complain);
  }

  async function twoPasses(mostBytes: number): Promise<Uint8Array> {
    const log = join(scratch.path, 'passes');
    let wanted = mostBytes;
    for (let turn = 0; turn < MOST_TURNS; turn++) {
      const rate = Math.max(1000, Math.floor(((wanted * 0.985 - HEADER_BYTES) * 8) / wish.times.seconds));
      const rated = ['-b:v', String(rate), '-passlogfile', log];
      if (turn === 0) await work(kept, [...rated, '-pass', '1']);
      await work(kept, [...rated, '-pass', '2']);
      const bytes = await readFile(file);
      if (bytes.length <= mostBytes) return bytes;
      wanted *= (mostBytes / bytes.length) * 0.98;
    }
    throw tooHeavy();
  }

  return {
    async add(frames) {
      for (const { rgba } of frames) {
        const bytes = Buffer.from(rgba.buffer, rgba.byteOffset, rgba.length);
        if (raw) await raw.write(bytes);
        else await feed(run, bytes);
        wish.onFrame(++count);
      }
    },
    async finish() {
      try {
        if (!raw) {
          run?.stdin?.end();
          await run?.ended.catch(complain);
          return await readFile(file);
        }
        await raw.close();
        if (wish.mostBytes !== undefined) return await twoPasses(wish.mostBytes);
        await work(kept, []);
        return await readFile(file);
      } finally {
        await scratch.remove();
      }
    },
    async abandon() {
      run?.stop();
      await raw?.close().catch(() => {});
      await scratch.remove();
    },
  };
}

/** How often a bit rate is tried. */
const MOST_TURNS = 4;
/** What a file has beside its pictures. */
const HEADER_BYTES = 1200;

type EncoderRun = ReturnType<typeof runFfmpeg>;

function runEncoder(wish: MovieWish, file: string, input: string, extra: readonly string[]): EncoderRun {
  const { size, times, rounds, graph } = wish;
  const filters = [...timingFilters(times, rounds), ...wish.filters, ...(graph ?? [])].join(',');
  const isFirstPass = extra.includes('1');
  const run = runFfmpeg(
    'ffmpeg',
    [
      ...['-hide_banner', '-nostdin', '-v', 'error', '-y'],
      ...(input === 'pipe:0' ? [] : ['-stream_loop', String(rounds - 1)]),
      ...['-f', 'rawvideo', '-pix_fmt', 'rgba', '-s', `${size.width}x${size.height}`],
      ...[...timingInput(times), '-i', input],
      ...(graph ? ['-filter_complex', `[0:v]${filters}`] : ['-vf', filters]),
      ...(times.isEven ? [] : ['-fps_mode', 'passthrough', '-enc_time_base', '1/1000']),
      ...['-c:v', wish.encoder, ...wish.options, ...extra],
      ...['-map_metadata', '-1', '-fflags', '+bitexact', '-flags:v', '+bitexact'],
      ...(isFirstPass ? ['-f', 'null', '-'] : [`file:${file}`]),
    ],
    TIME_LIMIT_MS,
    { takesInput: input === 'pipe:0' },
  );
  run.stdout.resume();
  // One that ends early is told of by `ended`.
  run.stdin?.on('error', () => {});
  return run;
}

async function feed(run: EncoderRun | null, bytes: Buffer): Promise<void> {
  const stdin = run?.stdin;
  if (!run || !stdin) return;
  if (stdin.destroyed || stdin.writableEnded) await run.ended.catch(complain);
  if (stdin.write(bytes)) return;
  const drained = new AbortController();
  await Promise.race([
    once(stdin, 'drain', { signal: drained.signal }).catch(() => {}),
    once(stdin, 'close', { signal: drained.signal }).catch(() => {}),
  ]);
  drained.abort();
}

function tooHeavy(): UserError {
  return new UserError(
    'too_heavy',
    'Even at the lowest bit rate the movie has more bytes than it may. Lower the width or the frame rate, or shorten it.',
  );
}

function complain(error: unknown): never {
  if (!(error instanceof FfmpegComplaint)) throw error;
  if (/bitrate is too low/i.test(error.complaint)) throw tooHeavy();
  if (/no space left/i.test(error.complaint)) {
    throw diskFull();
  }
  throw new UserError(
    'encoder_failed',
    `The encoder ended before the file was finished. Try it again; if it ends again, choose another kind of file. It said: ${error.complaint.split('\n').at(-1)?.slice(0, 160)}`,
  );
}
