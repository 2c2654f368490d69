import { ffmpegText, SAFE_INPUT } from '../ffmpeg/index.js';

const PROBE_LIMIT_MS = 60_000;

const ENTRIES = [
  'format=format_name,duration',
  'stream=index,codec_type,codec_name,width,height,sample_aspect_ratio,pix_fmt,field_order,color_space,color_range,color_transfer,color_primaries',
  'stream=time_base,nb_frames,duration,avg_frame_rate',
  'stream_tags=rotate,alpha_mode',
  'stream_side_data=rotation',
  'stream_disposition=attached_pic',
  'packet=stream_index,pts,dts,duration,flags',
].join(':');

/** The output of ffprobe on a file, JSON, and its error output. */
export type HeaderText = Awaited<ReturnType<typeof ffmpegText>>;

/** Asks ffprobe for headers and packets. */
export function readHeaderText(path: string): Promise<HeaderText> {
  const args = ['-v', 'error', '-of', 'json=compact=1', '-show_packets', '-show_entries', ENTRIES];
  return ffmpegText('ffprobe', [...SAFE_INPUT, ...args, `file:${path}`], PROBE_LIMIT_MS);
}
