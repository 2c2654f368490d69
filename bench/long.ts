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

/** Reels of 1280×720 up to 600 frames through the command line: time and memory, as a whole process. */
export async function benchLong(root: string, work: string): Promise<void> {
  const rows: BenchRow[] = [];
  const perFrame: number[] = [];
  for (const frames of LENGTHS) {
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
