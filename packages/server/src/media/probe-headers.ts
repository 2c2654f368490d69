import { open } from 'node:fs/promises';
import { UserError } from '@muted-pond/core/errors';
import { readHeaderText, takeHeaders } from '../decoder/index.js';
import { FfmpegComplaint, MOST_PIXELS } from '../ffmpeg/index.js';

export interface ProbedStream {
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

export interface Headers {
  readonly streams: ProbedStream[];
  readonly format: { format_name?: string; duration?: string };
  readonly packets: ProbedPacket[];
  readonly complaint: string;
}

export interface ProbedPacket {
  stream_index?: number;
  pts?: number;
  dts?: number;
  duration?: number;
  flags?: string;
}

/** Headers and packets as ffprobe tells them. @throws UserError for what it cannot read. */
export async function readHeaders(path: string, name: string): Promise<Headers> {
  try {
    const { text, complaint } = await (takeHeaders(path) ?? readHeaderText(path));
    const parsed = JSON.parse(text);
    return {
      streams: parsed.streams ?? [],
      format: parsed.format ?? {},
      packets: parsed.packets ?? [],
      complaint,
    };
  } catch (error) {
    if (!(error instanceof FfmpegComplaint)) throw error;
    throw await explainUnreadable(path, name, error.complaint);
  }
}

/** Turns the decoder's complaint about a file it does not know into a sentence. */
async function explainUnreadable(path: string, name: string, complaint: string): Promise<UserError> {
  if (/max pixel count|Picture size \S+ is invalid/i.test(complaint)) {
    return new UserError(
      'too_many_pixels',
      `“${name}” claims pictures larger than ${MOST_PIXELS / 1e6} million pixels. Make a smaller version of it.`,
    );
  }
  const head = (await firstBytes(path, 1024)).toString('latin1');
  if (/^#EXTM3U|^ffconcat|^\[playlist\]|<MPD|<playlist|^v=0\r?\n|^file\s+'/im.test(head)) {
    return new UserError(
      'names_other_files',
      `“${name}” is a list that names other files, not a video itself. Choose the video it names.`,
    );
  }
  if (looksLikeVideo(head)) {
    return new UserError(
      'cut_short',
      `“${name}” is cut short or damaged: a part that it cannot be read without is missing. Copy or export it again.`,
    );
  }
  return new UserError(
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

export async function firstBytes(path: string, count: number): Promise<Buffer> {
  const file = await open(path);
  try {
    const { buffer, bytesRead } = await file.read(Buffer.alloc(count), 0, count, 0);
    return buffer.subarray(0, bytesRead);
  } finally {
    await file.close();
  }
}

/** A ratio as ffprobe writes it, such as 16:9 or 1/25. */
export function parseRatio(text: string | undefined, otherwise: [number, number]): [number, number] {
  const [a, b] = (text ?? '').split(/[:/]/).map(Number);
  return a > 0 && b > 0 ? [a, b] : otherwise;
}
