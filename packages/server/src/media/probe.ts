import { open, stat } from 'node:fs/promises';
import { DecoderComplaint, decoderText, MOST_PIXELS, SAFE_INPUT } from './decoder-process.js';
import { MediaError } from './media-error.js';

/** What is known of a video file after reading its headers and every packet's time stamp. */
export interface VideoFacts {
  readonly container: string;
  readonly codec: string;
  /** Upright, with square pixels. */
  readonly width: number;
  readonly height: number;
  /** As stored. */
  readonly storedWidth: number;
  readonly storedHeight: number;
  /** Quarter turns that make it upright, in degrees clockwise. */
  readonly turn: 0 | 90 | 180 | 270;
  /** Width of a stored pixel as a multiple of its height. */
  readonly pixelAspect: number;
  readonly pixelFormat: string;
  readonly interlaced: boolean;
  readonly matrix: 'bt601' | 'bt709' | 'bt2020';
  readonly range: 'limited' | 'full';
  readonly hasSound: boolean;
  /** Seconds of one tick. */
  readonly timeBase: readonly [numerator: number, denominator: number];
  /** Presentation time of every frame, ticks, ascending. */
  readonly ticks: readonly number[];
  /** Indices of the frames that can be decoded by themselves. */
  readonly keyframes: readonly number[];
  /** Ticks from the first frame's appearance to the end of the last. */
  readonly durationTicks: number;
}

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
  if ((await stat(path)).size === 0) {
    throw new MediaError('empty_file', `“${name}” is empty (0 bytes). Copy it here again.`);
  }
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
  const packets = sortPackets(listed, streams.indexOf(video));
  if (packets.length === 0) {
    throw new MediaError('no_picture', `“${name}” holds no frame. It may be cut short; copy it here again.`);
  }
  assertWhole(name, video, format.duration, packets);
  return gatherFacts(video, format.format_name ?? '', streams, packets);
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
  'stream=index,codec_type,codec_name,width,height,sample_aspect_ratio,pix_fmt,field_order,color_space,color_range',
  'stream=time_base,nb_frames,duration,avg_frame_rate',
  'stream_tags=rotate',
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
  const head = await firstText(path);
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
    `“${name}” is not a video that can be read. Choose an MP4, MOV, WebM, MKV, AVI or MPEG file.`,
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

async function firstText(path: string): Promise<string> {
  const file = await open(path);
  try {
    const { buffer, bytesRead } = await file.read(Buffer.alloc(1024), 0, 1024, 0);
    return buffer.toString('latin1', 0, bytesRead);
  } finally {
    await file.close();
  }
}

interface Packet {
  readonly pts: number;
  readonly duration: number;
  readonly key: boolean;
}

/** One stream's packets in showing order, without those that lie outside the edit list: decoded, never shown. */
function sortPackets(listed: readonly ProbedPacket[], stream: number): Packet[] {
  const packets: Packet[] = [];
  for (const { stream_index, pts, dts, duration, flags = '' } of listed) {
    const time = pts ?? dts;
    if (stream_index !== stream || flags.includes('D') || time === undefined) continue;
    packets.push({ pts: time, duration: duration ?? 0, key: flags.includes('K') });
  }
  return packets.sort((a, b) => a.pts - b.pts);
}

/** A file whose headers promise more than it holds was cut short on its way here. */
function assertWhole(
  name: string,
  video: ProbedStream,
  formatDuration: string | undefined,
  packets: readonly Packet[],
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

function gatherFacts(
  video: ProbedStream,
  container: string,
  streams: readonly ProbedStream[],
  packets: readonly Packet[],
): VideoFacts {
  const storedWidth = video.width ?? 1;
  const storedHeight = video.height ?? 1;
  const [aspectWidth, aspectHeight] = parseRatio(video.sample_aspect_ratio, [1, 1]);
  const pixelAspect = aspectWidth > 0 && aspectHeight > 0 ? aspectWidth / aspectHeight : 1;
  const squareWidth = Math.max(1, Math.round(storedWidth * pixelAspect));
  const turn = readTurn(video);
  const lies = turn === 90 || turn === 270;
  const ticks = packets.map((packet) => packet.pts);
  const last = packets[packets.length - 1];
  const usual = ticks.length > 1 ? Math.round((last.pts - ticks[0]) / (ticks.length - 1)) : 1;
  const keyframes = packets.flatMap((packet, index) => (packet.key ? [index] : []));
  return {
    container: container.split(',')[0],
    codec: video.codec_name ?? 'unknown',
    width: lies ? storedHeight : squareWidth,
    height: lies ? squareWidth : storedHeight,
    storedWidth,
    storedHeight,
    turn,
    pixelAspect,
    pixelFormat: video.pix_fmt ?? 'unknown',
    interlaced: ['tt', 'bb', 'tb', 'bt'].includes(video.field_order ?? ''),
    matrix: readMatrix(video.color_space, storedHeight),
    range: video.color_range === 'pc' || video.pix_fmt?.startsWith('yuvj') ? 'full' : 'limited',
    hasSound: streams.some((stream) => stream.codec_type === 'audio'),
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

function readTurn(video: ProbedStream): VideoFacts['turn'] {
  const matrix = video.side_data_list?.find((data) => data.rotation !== undefined)?.rotation;
  const clockwise = matrix !== undefined ? -matrix : Number(video.tags?.rotate ?? 0);
  const turn = (((Math.round(clockwise / 90) * 90) % 360) + 360) % 360;
  return turn as VideoFacts['turn'];
}

function parseRatio(text: string | undefined, otherwise: [number, number]): [number, number] {
  const [a, b] = (text ?? '').split(/[:/]/).map(Number);
  return a > 0 && b > 0 ? [a, b] : otherwise;
}
