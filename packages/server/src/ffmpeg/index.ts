export {
  FfmpegComplaint,
  type FfmpegRun,
  ffmpegText,
  hasFfmpeg,
  MOST_PIXELS,
  runFfmpeg,
  SAFE_INPUT,
} from './ffmpeg-process.js';
export { TimeLimit } from './time-limit.js';
