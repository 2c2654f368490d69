import { stat } from 'node:fs/promises';
import { UserError } from '@muted-pond/core/errors';
import type { FrameClock, UprightTurn, VideoFacts } from '../decoder/index.js';
import { MOST_PIXELS } from '../ffmpeg/index.js';
import { MOST_UNPACKED, tooMuchToUnpack } from './animation.js';
import { readApngControl } from './apng-control.js';
import { findBreak, upToLastPicture } from './breaks-off.js';
import { type Packet, type Packets, readPackets } from './packets.js';
import { type ProbedStream, parseRatio, readHeaders } from './probe-headers.js';

/** Four hours at 60 frames a second. */
const MOST_FRAMES = 900_000;

/**
 * Reads a video file's headers and time stamps. No picture is decoded.
 * @param name what the user calls the file, for messages.
 * @throws UserError with a sentence, for everything that is not a video that can be used.
 */
export async function probeVideo(path: string, name: string): Promise<VideoFacts> {
  const headers = await readHeaders(path, name);
  const { streams, format, packets: listed } = headers;
  const videos = streams.filter((stream) => stream.codec_type === 'video');
  const video = videos.find((stream) => !stream.disposition?.attached_pic);
  if (!video?.width || !video.height) {
    const sound = streams.some((stream) => stream.codec_type === 'audio');
    throw new UserError(
      'no_picture',
      sound
        ? `“${name}” holds sound but no moving picture. Choose a video.`
        : `“${name}” holds no picture that can be read. Choose another file.`,
    );
  }
  if (video.width * video.height > MOST_PIXELS) {
    throw new UserError(
      'too_many_pixels',
      `“${name}” claims pictures of ${video.width} × ${video.height} px; at most ${MOST_PIXELS / 1e6} million pixels can be used. Make a smaller version of it.`,
    );
  }
  const packets = readPackets(listed, streams.indexOf(video));
  if (packets.list.length === 0) {
    throw new UserError('no_picture', `“${name}” holds no frame. It may be cut short; copy it here again.`);
  }
  const { size } = await stat(path);
  if (packets.list.length > Math.min(size, MOST_FRAMES)) {
    throw new UserError(
      'too_many_frames',
      `“${name}” claims ${packets.list.length} frames, more than ${size < MOST_FRAMES ? 'it has bytes' : 'can be used'}. Copy or export it again.`,
    );
  }
  if (format.format_name === 'apng' && packets.list.length * video.width * video.height > MOST_UNPACKED) {
    throw tooMuchToUnpack(name, packets.list.length, { width: video.width, height: video.height });
  }
  const facts = gatherFacts(video, format.format_name ?? '', streams, packets);
  const apng = format.format_name === 'apng' ? await readApngControl(path) : null;
  const breaksOff = await findBreak(path, headers, video, packets, apng?.frames ?? null);
  const known = { ...facts, ...(apng ? { plays: apng.plays } : {}) };
  return breaksOff ? upToLastPicture({ path, name, facts: { ...known, breaksOff } }) : known;
}

/** Pixel formats with an alpha channel. */
const ALPHA_FORMATS = /^(yuva|rgba|bgra|argb|abgr|gbrap|ya\d)/;

function gatherFacts(
  video: ProbedStream,
  containers: string,
  streams: readonly ProbedStream[],
  packets: Packets,
): VideoFacts {
  const container = containers.split(',')[0];
  const storedWidth = video.width ?? 1;
  const storedHeight = video.height ?? 1;
  const [aspectWidth, aspectHeight] = parseRatio(video.sample_aspect_ratio, [1, 1]);
  const pixelAspect = aspectWidth > 0 && aspectHeight > 0 ? aspectWidth / aspectHeight : 1;
  const squareWidth = Math.max(1, Math.round(storedWidth * pixelAspect));
  const turn = readTurn(video);
  const lies = turn === 90 || turn === 270;
  const pixelFormat = video.pix_fmt ?? 'unknown';
  return {
    reader: 'ffmpeg',
    kind: container === 'apng' ? 'animation' : 'video',
    container,
    codec: video.codec_name ?? 'unknown',
    width: lies ? storedHeight : squareWidth,
    height: lies ? squareWidth : storedHeight,
    storedWidth,
    storedHeight,
    turn,
    pixelAspect,
    pixelFormat,
    hasAlpha: ALPHA_FORMATS.test(pixelFormat) || video.tags?.alpha_mode === '1',
    interlaced: ['tt', 'bb', 'tb', 'bt'].includes(video.field_order ?? ''),
    matrix: readMatrix(video.color_space, storedHeight),
    range: video.color_range === 'pc' || pixelFormat.startsWith('yuvj') ? 'full' : 'limited',
    wideGamut: video.color_primaries === 'bt2020',
    transfer: TRANSFERS[video.color_transfer ?? ''] ?? 'sdr',
    hasSound: streams.some((stream) => stream.codec_type === 'audio'),
    plays: 0,
    addressing: packets.addressing,
    ...readClock(video, packets.list),
  };
}

const TRANSFERS: Readonly<Record<string, VideoFacts['transfer']>> = {
  smpte2084: 'pq',
  'arib-std-b67': 'hlg',
};

function readClock(
  video: ProbedStream,
  packets: readonly Packet[],
): FrameClock & Pick<VideoFacts, 'keyframes'> {
  const ticks = packets.map((packet) => packet.pts);
  const last = packets[packets.length - 1];
  const usual = ticks.length > 1 ? Math.round((last.pts - ticks[0]) / (ticks.length - 1)) : 1;
  const keyframes = packets.flatMap((packet, index) => (packet.key ? [index] : []));
  return {
    timeBase: parseRatio(video.time_base, [1, 1000]),
    ticks,
    keyframes: keyframes.length > 0 ? keyframes : [0],
    durationTicks: Math.max(1, last.pts - ticks[0] + (last.duration || usual)),
  };
}

/** Untagged video is taken for BT.709 from 720 lines up and BT.601 below, as it is nearly always meant. */
function readMatrix(colorSpace: string | undefined, height: number): VideoFacts['matrix'] {
  if (colorSpace?.startsWith('bt2020')) return 'bt2020';
  if (colorSpace === 'bt709') return 'bt709';
  if (colorSpace && ['smpte170m', 'bt470bg', 'fcc'].includes(colorSpace)) return 'bt601';
  return height >= 720 ? 'bt709' : 'bt601';
}

function readTurn(video: ProbedStream): UprightTurn {
  const matrix = video.side_data_list?.find((data) => data.rotation !== undefined)?.rotation;
  const clockwise = matrix !== undefined ? -matrix : Number(video.tags?.rotate ?? 0);
  const turn = (((Math.round(clockwise / 90) * 90) % 360) + 360) % 360;
  return turn as UprightTurn;
}
