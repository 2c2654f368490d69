import { spawn } from 'node:child_process';
import { once } from 'node:events';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { timeProcess } from './measure.js';
import { type BenchRow, printTable } from './table.js';

const LENGTHS = [150, 300, 600];
const WANTED_GIGABYTES = 1.5;
/** Of the longest. */
const WANTED_SECONDS = 30;
/** Time a frame of the longest reel, as a share of that of the shortest. */
const WANTED_GROWTH = 1.3;

/** Every kind but GIF, which is measured in all lengths. */
const OTHER_KINDS = ['webp', 'png', 'avif', 'mp4', 'webm', 'zip'] as const;

/** Reels of 1280×720 up to 600 frames through the command line: time and memory, as a whole process. */
export async function benchLong(root: string, work: string): Promise<void> {
  const rows: BenchRow[] = [];
  const perFrame: number[] = [];
  for (const frames of LENGTHS) {
    const clip = await longClip(root, work, frames);
    const { seconds, gigabytes } = await runMeasured(process.execPath, [
      join(root, 'packages/server/dist/cli/main.js'),
      ...['--source', clip, '--width', '1280', '--fps', '30', '--quality', 'balanced', '--dither', 'none'],
      ...['--out', join(work, 'long.gif')],
    ]);
    perFrame.push((seconds * 1000) / frames);
    rows.push(
      {
        what: `${frames} frames: time`,
        figure: `${seconds.toFixed(1)} s`,
        ...(frames === LENGTHS[LENGTHS.length - 1]
          ? { wanted: `≤ ${WANTED_SECONDS} s`, reached: seconds <= WANTED_SECONDS }
          : { wanted: '', reached: null }),
      },
      {
        what: `${frames} frames: most memory`,
        figure: `${gigabytes.toFixed(2)} GB`,
        wanted: `≤ ${WANTED_GIGABYTES} GB`,
        reached: gigabytes <= WANTED_GIGABYTES,
      },
    );
  }
  const growth = perFrame[perFrame.length - 1] / perFrame[0];
  rows.push({
    what: 'time a frame, longest ÷ shortest',
    figure: growth.toFixed(2),
    wanted: `≤ ${WANTED_GROWTH}`,
    reached: growth <= WANTED_GROWTH,
  });
  printTable('long reels, 1280 × 720', rows);
}

/** The longest reel in every other kind of file, with its report: the file is read back to be measured. */
export async function benchLongKinds(root: string, work: string): Promise<void> {
  const frames = LENGTHS[LENGTHS.length - 1];
  const clip = await longClip(root, work, frames);
  const rows: BenchRow[] = [];
  for (const ending of OTHER_KINDS) {
    const { seconds, gigabytes } = await runMeasured(process.execPath, [
      join(root, 'packages/server/dist/cli/main.js'),
      ...['--source', clip, '--width', '1280', '--fps', '30'],
      ...['--out', join(work, `long.${ending}`), '--report', join(work, 'long.json')],
    ]);
    rows.push({
      what: `${frames} frames as .${ending}, with a report, ${seconds.toFixed(0)} s: most memory`,
      figure: `${gigabytes.toFixed(2)} GB`,
      wanted: `≤ ${WANTED_GIGABYTES} GB`,
      reached: gigabytes <= WANTED_GIGABYTES,
    });
  }
  printTable('long reels in every kind, 1280 × 720', rows);
}

async function longClip(root: string, work: string, frames: number): Promise<string> {
  const clip = join(work, `long ${frames}.mp4`);
  await timeProcess('ffmpeg', [
    ...['-v', 'error', '-y', '-stream_loop', '9', '-i', join(root, 'demo/footage/lantern.mp4')],
    ...[
      '-frames:v',
      String(frames),
      '-vf',
      'scale=1280:720',
      '-c:v',
      'libx264',
      '-preset',
      'ultrafast',
      clip,
    ],
  ]);
  return clip;
}

/** A whole process: its time, and the most memory that it had (Linux: VmHWM, which only grows). */
async function runMeasured(
  program: string,
  args: readonly string[],
): Promise<{ seconds: number; gigabytes: number }> {
  const began = performance.now();
  const child = spawn(program, args, { stdio: ['ignore', 'ignore', 'inherit'] });
  let kilobytes = 0;
  const look = () => {
    try {
      const [, most] = /VmHWM:\s+(\d+)/.exec(readFileSync(`/proc/${child.pid}/status`, 'utf8')) ?? [];
      if (most) kilobytes = Number(most);
    } catch {
      // It has ended.
    }
  };
  const looking = setInterval(look, 100);
  const [code] = await once(child, 'close');
  clearInterval(looking);
  if (code !== 0) throw new Error(`${program} ended with ${code}.`);
  return { seconds: (performance.now() - began) / 1000, gigabytes: kilobytes / 1e6 };
}
