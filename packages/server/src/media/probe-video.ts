import { open } from 'node:fs/promises';
import { DecoderComplaint, decoderText, MOST_PIXELS, SAFE_INPUT } from './decoder-process.js';
import type { FrameClock, UprightTurn, VideoFacts } from './facts.js';
import { MediaError } from './media-error.js';

const PROBE_LIMIT_MS = 60_000;

interface ProbedStream {
  codec_type?: string;
  codec_name?: string;
  width?: number;
  height?: number;
  sample_aspect_ratio?: string;
  pix_fmt?: string;
  field_order?: string;
  color_space?: string;
  color_range?: string;
  color_transfer?: string;
  color_primaries?: string;
  time_base?: string;
  nb_frames?: string;
  duration?: string;
  avg_frame_rate?: string;
  tags?: Record<string, string>;
  side_data_list?: { rotation?: number }[];
  disposition?: { attached_pic?: number };
}

/**
 * Reads a video file's headers and time stamps. No picture is decoded.
 * @param name what the user calls the file, for messages.
 * @throws MediaError with a sentence, for everything that is not a video that can be used.
 */
export async function probeVideo(path: string, name: string): Promise<VideoFacts> {
  const { streams, format, packets: listed } = await readHeaders(path, name);
  const videos = streams.filter((stream) => stream.codec_type === 'video');
  const video = videos.find((stream) => !stream.disposition?.attached_pic);
  if (!video?.width || !video.height) {
    const sound = streams.some((stream) => stream.codec_type === 'audio');
    throw new MediaError(
      'no_picture',
      sound
        ? `“${name}” holds sound but no moving picture. Choose a video.`
        : `“${name}” holds no picture that can be read. Choose another file.`,
    );
  }
  if (video.width * video.height > MOST_PIXELS) {
    throw new MediaError(
      'too_many_pixels',
      `“${name}” claims pictures of ${video.width} × ${video.height} px; at most ${MOST_PIXELS / 1e6} million pixels can be used. Make a smaller version of it.`,
    );
  }
  const packets = readPackets(listed, streams.indexOf(video));
  if (packets.list.length === 0) {
    throw new MediaError('no_picture', `“${name}” holds no frame. It may be cut short; copy it here again.`);
  }
  const apng = format.format_name === 'apng' ? await readApngControl(path) : null;
  assertWhole(
    name,
    { ...video, nb_frames: apng ? String(apng.frames) : video.nb_frames },
    format.duration,
    packets,
  );
  const facts = gatherFacts(video, format.format_name ?? '', streams, packets);
  return apng ? { ...facts, plays: apng.plays } : facts;
}

interface Headers {
  readonly streams: ProbedStream[];
  readonly format: { format_name?: string; duration?: string };
  readonly packets: ProbedPacket[];
}

interface ProbedPacket {
  stream_index?: number;
  pts?: number;
  dts?: number;
  duration?: number;
  flags?: string;
}

const ENTRIES = [
  'format=format_name,duration',
  'stream=index,codec_type,codec_name,width,height,sample_aspect_ratio,pix_fmt,field_order,color_space,color_range,color_transfer,color_primaries',
  'stream=time_base,nb_frames,duration,avg_frame_rate',
  'stream_tags=rotate,alpha_mode',
  'stream_side_data=rotation',
  'stream_disposition=attached_pic',
  'packet=stream_index,pts,dts,duration,flags',
].join(':');

async function readHeaders(path: string, name: string): Promise<Headers> {
  try {
    const text = await decoderText(
      'ffprobe',
      [
        ...SAFE_INPUT,
        ...[
          '-v',
          'error',
          '-of',
          'json=compact=1',
          '-show_packets',
          '-show_entries',
          ENTRIES,
          `file:${path}`,
        ],
      ],
      PROBE_LIMIT_MS,
    );
    const parsed = JSON.parse(text);
    return { streams: parsed.streams ?? [], format: parsed.format ?? {}, packets: parsed.packets ?? [] };
  } catch (error) {
    if (!(error instanceof DecoderComplaint)) throw error;
    throw await explainUnreadable(path, name, error.complaint);
  }
}

/** Turns the decoder's complaint about a file it does not know into a sentence. */
async function explainUnreadable(path: string, name: string, complaint: string): Promise<MediaError> {
  if (/max pixel count|Picture size \S+ is invalid/i.test(complaint)) {
    return new MediaError(
      'too_many_pixels',
      `“${name}” claims pictures larger than ${MOST_PIXELS / 1e6} million pixels. Make a smaller version of it.`,
    );
  }
  const head = (await firstBytes(path, 1024)).toString('latin1');
  if (/^#EXTM3U|^ffconcat|^\[playlist\]|<MPD|<playlist|^v=0\r?\n|^file\s+'/im.test(head)) {
    return new MediaError(
      'names_other_files',
      `“${name}” is a list that names other files, not a video itself. Choose the video it names.`,
    );
  }
  if (looksLikeVideo(head)) {
    return new MediaError(
      'cut_short',
      `“${name}” is cut short or damaged: a part that it cannot be read without is missing. Copy or export it again.`,
    );
  }
  return new MediaError(
    'not_a_video',
    `“${name}” is neither a video nor a picture that can be read. Choose a video (MP4, MOV, WebM, MKV, AVI, MPEG), an animation (GIF, APNG, WebP) or pictures (PNG, JPEG, WebP, AVIF, TIFF).`,
  );
}

/** The marks by which MP4 and MOV, Matroska and WebM, AVI, and MPEG streams begin. */
function looksLikeVideo(head: string): boolean {
  return (
    ['ftyp', 'moov', 'mdat', 'wide', 'free'].includes(head.slice(4, 8)) ||
    head.startsWith('\x1aE\xdf\xa3') ||
    (head.startsWith('RIFF') && head.slice(8, 11) === 'AVI') ||
    head.startsWith('\0\0\x01\xba')
  );
}

async function firstBytes(path: string, count: number): Promise<Buffer> {
  const file = await open(path);
  try {
    const { buffer, bytesRead } = await file.read(Buffer.alloc(count), 0, count, 0);
    return buffer.subarray(0, bytesRead);
  } finally {
    await file.close();
  }
}

interface Packet {
  readonly pts: number;
  readonly duration: number;
  readonly key: boolean;
}

interface Packets {
  /** In showing order. */
  readonly list: readonly Packet[];
  readonly addressing: VideoFacts['addressing'];
}

/**
 * One stream's packets in showing order, without those that lie outside the edit list: decoded, never shown. Where not every
 * packet says when it is shown, or two say the same, frames are spaced by their decoding times or durations and counted.
 */
function readPackets(listed: readonly ProbedPacket[], stream: number): Packets {
  const own = listed.filter(
    ({ stream_index, flags = '' }) => stream_index === stream && !flags.includes('D'),
  );
  const list = own
    .map(({ pts, duration, flags = '' }) => ({
      pts: pts ?? Number.NaN,
      duration: duration ?? 0,
      key: flags.includes('K'),
    }))
    .sort((a, b) => a.pts - b.pts);
  const isTimed = list.every((packet, i) => packet.pts > (list[i - 1]?.pts ?? Number.NEGATIVE_INFINITY));
  if (isTimed) return { list, addressing: 'time' };

  const inOrder = own.map((packet) => packet.dts ?? Number.NaN);
  const hasOrder = inOrder.every((dts, i) => dts > (inOrder[i - 1] ?? Number.NEGATIVE_INFINITY));
  const step = own.find((packet) => (packet.duration ?? 0) > 0)?.duration ?? 1;
  return {
    addressing: 'count',
    list: own.map(({ duration, flags = '' }, i) => ({
      pts: hasOrder ? inOrder[i] : i * step,
      duration: duration || step,
      key: flags.includes('K'),
    })),
  };
}

/** PNG, third edition, 11.3.6.1: num_frames and num_plays of acTL; 0 plays is without end. */
async function readApngControl(path: string): Promise<{ frames: number; plays: number }> {
  const head = await firstBytes(path, 64 * 1024);
  const at = head.indexOf('acTL', 0, 'latin1');
  if (at < 0 || at + 12 > head.length) return { frames: 0, plays: 0 };
  return { frames: head.readUInt32BE(at + 4), plays: head.readUInt32BE(at + 8) };
}

/** A file whose headers promise more than it holds was cut short on its way here. */
function assertWhole(
  name: string,
  video: ProbedStream,
  formatDuration: string | undefined,
  { list: packets }: Packets,
): void {
  const promised = Number(video.nb_frames);
  if (promised > 0 && packets.length < promised * 0.98 - 1) {
    throw new MediaError(
      'cut_short',
      `“${name}” is cut short: it promises ${promised} frames and breaks off after ${packets.length}. Copy or export it again.`,
    );
  }
  const [numerator, denominator] = parseRatio(video.time_base, [1, 1000]);
  const promisedSeconds = Number(video.duration ?? formatDuration);
  const last = packets[packets.length - 1];
  const seconds = ((last.pts + last.duration - packets[0].pts) * numerator) / denominator;
  if (promisedSeconds > 0 && seconds < promisedSeconds * 0.85 - 1) {
    throw new MediaError(
      'cut_short',
      `“${name}” is cut short: it promises ${promisedSeconds.toFixed(1)} s and breaks off after ${seconds.toFixed(1)} s. Copy or export it again.`,
    );
  }
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

function parseRatio(text: string | undefined, otherwise: [number, number]): [number, number] {
  const [a, b] = (text ?? '').split(/[:/]/).map(Number);
  return a > 0 && b > 0 ? [a, b] : otherwise;
}
