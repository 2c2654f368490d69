import { writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import type { Readable } from 'node:stream';
import { createFrame, type PixelFrame, type Size } from '@muted-pond/core/pixels';
import { ffmpegText, runFfmpeg, SAFE_INPUT } from '../ffmpeg/index.js';
import { openScratch } from '../scratch/index.js';

const TIME_LIMIT_MS = 120_000;

/** The decoder that gives alpha as well; null where the usual one does. */
export type MovieDecoder = 'libvpx-vp9' | null;

/** What a finished movie says of itself. */
export interface MovieFacts {
  readonly size: Size;
  /** Colours and alpha stand in a track each. */
  readonly hasAlphaTrack: boolean;
  readonly seconds: number;
  /** Bytes of each frame in the order in which they are shown. */
  readonly frameBytes: readonly number[];
}

interface Probed {
  readonly format: { readonly duration: string };
  readonly streams: readonly { readonly width: number; readonly height: number }[];
  readonly packets: readonly { readonly pts: number; readonly size: string; readonly stream_index: number }[];
}

/** Pictures of a finished movie, from its first on, as a browser shows them: sRGB with alpha. */
export async function* readMovie(bytes: Uint8Array, decoder: MovieDecoder): AsyncGenerator<PixelFrame> {
  const scratch = await openScratch();
  const path = join(scratch.path, 'movie');
  try {
    await writeFile(path, bytes);
    const { size, hasAlphaTrack } = await probeMovie(path);
    const toRgb = 'scale=in_color_matrix=bt709:in_range=tv:flags=bicubic+accurate_rnd+full_chroma_int';
    const run = runFfmpeg(
      'ffmpeg',
      [
        ...['-hide_banner', '-nostdin', '-v', 'error', ...SAFE_INPUT],
        ...(decoder ? ['-c:v', decoder] : []),
        ...['-i', `file:${path}`],
        ...(hasAlphaTrack
          ? ['-filter_complex', `[0:1]format=gray[a];[0:0]${toRgb},format=rgba[c];[c][a]alphamerge`]
          : ['-map', '0:V:0', '-vf', toRgb]),
        ...['-fps_mode', 'passthrough', '-pix_fmt', 'rgba', '-f', 'rawvideo', 'pipe:1'],
      ],
      TIME_LIMIT_MS,
    );
    try {
      yield* pictures(run.stdout, size);
      await run.ended;
    } finally {
      run.stop();
    }
  } finally {
    await scratch.remove();
  }
}

async function* pictures(stream: Readable, { width, height }: Size): AsyncGenerator<PixelFrame> {
  let frame = createFrame(width, height);
  let filled = 0;
  for await (const chunk of stream as AsyncIterable<Buffer>) {
    for (let at = 0; at < chunk.length; ) {
      const take = Math.min(frame.rgba.length - filled, chunk.length - at);
      frame.rgba.set(chunk.subarray(at, at + take), filled);
      filled += take;
      at += take;
      if (filled < frame.rgba.length) continue;
      yield frame;
      frame = createFrame(width, height);
      filled = 0;
    }
  }
}

/** Bytes and size of a finished movie. */
export async function factsOfMovie(bytes: Uint8Array): Promise<MovieFacts> {
  const scratch = await openScratch();
  try {
    const path = join(scratch.path, 'movie');
    await writeFile(path, bytes);
    return await probeMovie(path);
  } finally {
    await scratch.remove();
  }
}

async function probeMovie(path: string): Promise<MovieFacts> {
  const { text } = await ffmpegText(
    'ffprobe',
    [
      ...['-v', 'error', ...SAFE_INPUT, '-of', 'json'],
      ...[
        '-show_entries',
        'format=duration:stream=width,height:packet=pts,size,stream_index',
        `file:${path}`,
      ],
    ],
    TIME_LIMIT_MS,
  );
  const { streams, packets, format } = JSON.parse(text) as Probed;
  const byTime = new Map<number, number>();
  for (const { pts, size } of packets) byTime.set(pts, (byTime.get(pts) ?? 0) + Number(size));
  const frameBytes = [...byTime].sort(([one], [other]) => one - other).map(([, size]) => size);
  const [{ width, height }] = streams;
  return {
    size: { width, height },
    hasAlphaTrack: streams.length > 1,
    seconds: Number(format.duration),
    frameBytes,
  };
}
