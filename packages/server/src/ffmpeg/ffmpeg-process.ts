import { createInterface } from 'node:readline';
import type { Readable, Writable } from 'node:stream';
import { UserError } from '@muted-pond/core/errors';
import { currentJob } from '../job-context/index.js';
import { spawnWatched } from '../processes/index.js';
import { TimeLimit } from './time-limit.js';

/** What the decoder may read: containers of moving pictures, and none that name other files. */
const CONTAINERS = [
  'mov', // MP4, MOV, 3GP
  'matroska', // MKV, WebM
  'avi',
  'mpeg', // program streams
  'mpegts',
  'mpegvideo',
  'm4v',
  'h264',
  'hevc',
  'flv',
  'asf', // WMV
  'ogg',
  'mxf',
  'ivf',
  'nut',
  'apng',
];

/** More pixels than this in one picture are refused before anything is decoded. */
export const MOST_PIXELS = 8192 * 4608;

/** Address space of one decoder process, KiB. */
const MOST_MEMORY_KIB = 6 * 1024 * 1024;
/** Everything else on the machine goes before what nobody waits for (nice(1)). */
const BACKGROUND_NICENESS = 15;
/** Standard error that is kept to find the reason of a failure, characters. */
const MOST_COMPLAINT = 8000;

/** Options before `-i`: no network, no containers but the known ones, no huge pictures. */
export const SAFE_INPUT: readonly string[] = [
  ...['-protocol_whitelist', 'file,pipe'],
  ...['-format_whitelist', CONTAINERS.join(',')],
  ...['-max_pixels', String(MOST_PIXELS)],
];

export interface FfmpegOptions {
  readonly background?: boolean;
  readonly takesInput?: boolean;
  /** Is told each line that is written to standard error. */
  readonly onLog?: (line: string) => void;
}

export interface FfmpegRun {
  readonly stdout: Readable;
  /** Where the program reads from; null unless it takes input. */
  readonly stdin: Writable | null;
  /** Settles when the process has ended. @throws UserError too_slow, decoder_missing, FfmpegComplaint, or Stopped. */
  readonly ended: Promise<void>;
  /** Ends the process now; `ended` then settles without an error. */
  stop(): void;
  /** What it has written to its standard error so far. */
  complaint(): string;
  /** The time in which whoever reads has enough does not count. */
  readonly limit: Pick<TimeLimit, 'begin' | 'pause'>;
}

/** The decoder ended with a complaint; the caller knows which file and what it means there. */
export class FfmpegComplaint extends Error {
  override readonly name = 'FfmpegComplaint';

  constructor(readonly complaint: string) {
    super(`The decoder ended with: ${complaint}`);
  }
}

/**
 * Starts ffmpeg or ffprobe as a child with a time and a memory limit. It ends with the job that it is run for,
 * with the thread and with the process that started it.
 * @param options `background` lets everything else on the machine go first; with `takesInput` it reads what is
 * written to it.
 */
export function runFfmpeg(
  program: 'ffmpeg' | 'ffprobe',
  args: readonly string[],
  timeLimitMs: number,
  { background = false, takesInput = false, onLog }: FfmpegOptions = {},
): FfmpegRun {
  const child = spawnWatched(program, args, {
    stdin: takesInput ? 'pipe' : 'ignore',
    stdout: 'pipe',
    stderr: 'pipe',
    before: [`ulimit -v ${MOST_MEMORY_KIB} 2>/dev/null`],
    niceness: background ? BACKGROUND_NICENESS : 0,
  });
  const job = currentJob();
  const onJobStop = () => child.kill('SIGKILL');
  const { pid } = child;
  if (pid !== undefined) {
    job?.onChild(pid, 'started');
    child.on('exit', () => job?.onChild(pid, 'ended'));
  }
  if (job?.signal.aborted) onJobStop();
  else job?.signal.addEventListener('abort', onJobStop, { once: true });
  const stdout = child.stdout as Readable;
  const stderr = child.stderr as Readable;
  let complaint = '';
  let stopped = false;
  stderr.setEncoding('utf8');
  stderr.on('data', (text: string) => {
    if (complaint.length < MOST_COMPLAINT) complaint += text;
  });
  if (onLog) createInterface({ input: stderr }).on('line', onLog);
  const limit = new TimeLimit(timeLimitMs, () => child.kill('SIGKILL'));
  limit.begin();
  const ended = new Promise<void>((resolve, reject) => {
    child.on('error', reject);
    child.on('close', (code) => {
      const isLate = limit.isOver;
      limit.pause();
      job?.signal.removeEventListener('abort', onJobStop);
      if (job?.signal.aborted) reject(job.signal.reason);
      else if (stopped || code === 0) resolve();
      else if (isLate) reject(limit.error());
      else if (code === 127) {
        reject(
          new UserError(
            'decoder_missing',
            'ffmpeg is not installed. Install it (Debian: apt-get install ffmpeg).',
          ),
        );
      } else reject(new FfmpegComplaint(complaint.trim() || `exit code ${code}`));
    });
  });
  // Someone always looks at `ended`, but maybe only after the output was read.
  ended.catch(() => {});
  return {
    stdout,
    stdin: child.stdin,
    ended,
    limit,
    complaint: () => complaint,
    stop() {
      stopped = true;
      child.kill('SIGKILL');
    },
  };
}

/** Runs to the end and gives the whole standard output as text, and what was complained of on the way. */
export async function ffmpegText(
  program: 'ffmpeg' | 'ffprobe',
  args: readonly string[],
  timeLimitMs: number,
): Promise<{ readonly text: string; readonly complaint: string }> {
  const run = runFfmpeg(program, args, timeLimitMs);
  run.stdout.setEncoding('utf8');
  const parts: string[] = [];
  for await (const part of run.stdout) parts.push(part as string);
  await run.ended;
  return { text: parts.join(''), complaint: run.complaint() };
}

/** Whether the decoder can be started at all. */
export async function hasFfmpeg(): Promise<boolean> {
  const all = (['ffmpeg', 'ffprobe'] as const).map((program) => ffmpegText(program, ['-version'], 10_000));
  return Promise.all(all).then(
    () => true,
    () => false,
  );
}
