import { open } from 'node:fs/promises';
import { UserError } from '@muted-pond/core/errors';
import type { BreaksOff, VideoFacts } from '../decoder/index.js';
import { decodeVideo } from './decode-video.js';
import type { Packets } from './packets.js';
import { type Headers, type ProbedStream, parseRatio } from './probe-headers.js';

/** What the reader says of a file that ends within a block it has announced. */
const ENDS_EARLY = /partial file|ended prematurely/i;
/**
 * A gap this long between what is promised and what is there is no rounding: a part of the length, and
 * seconds.
 */
const MISSING_SHARE = 0.15;
const MISSING_SECONDS = 1;

/**
 * What a file promised, if it breaks off before. Counts in headers prove nothing: cameras drop frames, and
 * writers count them. That a file is not whole is told by its own structure, or by times that end long before
 * its length.
 * @param promisedFrames of an animated PNG.
 * @returns null where all is there.
 */
export async function findBreak(
  path: string,
  { streams, packets, format, complaint }: Headers,
  video: ProbedStream,
  own: Packets,
  promisedFrames: number | null,
): Promise<BreaksOff | null> {
  if (format.format_name === 'apng') {
    if (own.list.length >= (promisedFrames ?? 0) && (await hasPngEnd(path))) return null;
    return { promisedSeconds: null, promisedFrames };
  }
  const [frames, seconds] = parseRatio(video.avg_frame_rate, [25, 1]);
  const counted = (Number(video.nb_frames ?? 0) * seconds) / frames;
  const promised = Number(video.duration ?? format.duration ?? 0);
  const isAvi = format.format_name === 'avi';
  if (ENDS_EARLY.test(complaint) || (isAvi && (await isRiffCut(path)))) {
    return { promisedSeconds: (isAvi ? counted : promised) || null, promisedFrames: null };
  }
  // Of a stream that does not say its length, the file's may be that of another one.
  const reached = video.duration
    ? secondsOf(own, video)
    : Math.max(...streams.map((stream, index) => streamSeconds(stream, index, packets)));
  const isMissing = promised > 0 && reached < promised * (1 - MISSING_SHARE) - MISSING_SECONDS;
  return isMissing ? { promisedSeconds: promised, promisedFrames: null } : null;
}

function secondsOf({ list }: Packets, video: ProbedStream): number {
  const [numerator, denominator] = parseRatio(video.time_base, [1, 1000]);
  const last = list[list.length - 1];
  return ((last.pts + last.duration - list[0].pts) * numerator) / denominator;
}

function streamSeconds(stream: ProbedStream, index: number, packets: Headers['packets']): number {
  const [numerator, denominator] = parseRatio(stream.time_base, [1, 1000]);
  let end = 0;
  for (const { stream_index, pts, dts, duration } of packets) {
    if (stream_index === index) end = Math.max(end, (pts ?? dts ?? 0) + (duration ?? 0));
  }
  return (end * numerator) / denominator;
}

/** The RIFF header says how many bytes follow it (AVI RIFF File Reference). */
async function isRiffCut(path: string): Promise<boolean> {
  const file = await open(path);
  try {
    const head = Buffer.alloc(8);
    await file.read(head, 0, 8, 0);
    const { size } = await file.stat();
    return head.readUInt32LE(4) + 8 > size + 1;
  } finally {
    await file.close();
  }
}

/** PNG, third edition, 11.2.5: the last chunk is IEND. */
async function hasPngEnd(path: string): Promise<boolean> {
  const file = await open(path);
  try {
    const { size } = await file.stat();
    const tail = Buffer.alloc(Math.min(size, 4096));
    await file.read(tail, 0, tail.length, size - tail.length);
    return tail.includes('IEND', 0, 'latin1');
  } finally {
    await file.close();
  }
}

/** Frames that are looked at first, from the end; twice as many each time that none of them can be shown. */
const LOOKED_AT = 12;

/**
 * The frame in which a file breaks off, and those that lean on it, may give no picture; they are left out.
 * @throws UserError `no_picture` when no frame can be shown.
 */
export async function upToLastPicture({
  path,
  name,
  facts,
}: {
  readonly path: string;
  readonly name: string;
  readonly facts: VideoFacts;
}): Promise<VideoFacts> {
  const total = facts.ticks.length;
  for (let count = Math.min(LOOKED_AT, total); ; count = Math.min(2 * count, total)) {
    const frames = Array.from({ length: count }, (_, i) => total - count + i);
    let shown = 0;
    try {
      const request = { path, name, facts, frames, size: { width: 16, height: 16 }, format: 'rgba' as const };
      for await (const _ of decodeVideo(request)) shown++;
    } catch (error) {
      if (!(error instanceof UserError) || error.code !== 'decoder_failed') throw error;
    }
    if (shown > 0) return firstFrames(facts, total - count + shown);
    if (count === total) {
      throw new UserError(
        'no_picture',
        `“${name}” breaks off before its first picture is complete. Copy or export it again.`,
      );
    }
  }
}

function firstFrames(facts: VideoFacts, count: number): VideoFacts {
  const { ticks, keyframes, durationTicks } = facts;
  if (count === ticks.length) return facts;
  return {
    ...facts,
    ticks: ticks.slice(0, count),
    keyframes: keyframes.filter((frame) => frame < count),
    durationTicks: Math.min(durationTicks, ticks[count] - ticks[0]),
  };
}
