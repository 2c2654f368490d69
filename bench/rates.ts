import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { evenRates } from '@muted-pond/core/timing';
import { readWithSharp } from '../packages/core/src/testing/independent-readers.js';
import { clipFolder, NUMBERED_WIDTH, numberedFrames, readNumber } from '../packages/server/test/clips.js';
import { timeProcess } from './measure.js';
import { type BenchRow, printTable } from './table.js';

const SOURCES = [10, 12, 23.976, 25, 29.97, 50, 60];
const FRAMES = 120;
/** Slower ones are rarely meant, frames a second. */
const SLOWEST = 5;
/** Typed by hand, even for few sources. */
const TYPED = [12, 15, 20, 24];
/** A centisecond, and the rounding of a container's stamps to milliseconds, s. */
const WANTED = 0.011;

/**
 * How far shown frames are off their own times at worst, and how much the delays differ, read from finished
 * files by another reader: footage of every common rate against every rate that is offered, and some that are
 * typed.
 */
export async function benchRates(root: string, work: string): Promise<void> {
  const clips = clipFolder();
  const out = join(work, 'rates.gif');
  const render = async (source: string, rate: number) => {
    await timeProcess(process.execPath, [
      join(root, 'packages/server/dist/cli/main.js'),
      ...['--source', source, '--fps', String(rate), '--width', String(NUMBERED_WIDTH)],
      ...['--colors', '16', '--dither', 'none', '--settle', '0', '--squeeze', '0', '--out', out],
    ]);
    const { pictures, delaysCs } = await readWithSharp(readFileSync(out));
    return pictures.map((picture, i) => ({
      number: readNumber(picture, 4, NUMBERED_WIDTH),
      delayCs: delaysCs[i],
    }));
  };
  const x264 = ['-c:v', 'libx264', '-crf', '10', '-bf', '0'];
  const rows: BenchRow[] = [];
  const measure = async (what: string, source: string, times: readonly number[], even: readonly number[]) => {
    let worst = 0;
    let spread = 0;
    for (const rate of new Set([...even, ...TYPED])) {
      const shown = await render(source, rate);
      let at = 0;
      for (const { number, delayCs } of shown) {
        worst = Math.max(worst, Math.abs(times[number] - times[shown[0].number] - at / 100));
        at += delayCs;
      }
      const delays = shown.slice(0, -1).map(({ delayCs }) => delayCs);
      if (even.includes(rate)) spread = Math.max(spread, Math.max(...delays) - Math.min(...delays));
    }
    rows.push({
      what: `${what}: off its own time at worst, at ${new Set([...even, ...TYPED]).size} rates`,
      figure: `${(worst * 1000).toFixed(1)} ms`,
      wanted: `≤ ${WANTED * 1000} ms`,
      reached: worst <= WANTED,
    });
    if (even.length === 0) return;
    rows.push({
      what: `${what}: delays differ at the ${even.length} offered rates by`,
      figure: `${spread} cs`,
      wanted: '≤ 1 cs',
      reached: spread <= 1,
    });
  };
  try {
    for (const rate of SOURCES) {
      const source = clips.make(`${rate}.mp4`, ...numberedFrames(FRAMES, rate), ...x264);
      const times = Array.from({ length: FRAMES }, (_, i) => i / rate);
      const even = evenRates({ starts: times, duration: FRAMES / rate }).filter((one) => one >= SLOWEST);
      // A span that is a whole number of such steps; else one step is a source frame longer or shorter.
      const whole = even.filter((one) => FRAMES % Math.round(rate / one) === 0);
      await measure(`${rate} fps`, source, times, whole);
    }
    const stamp = (n: number) => (n + 2 * Math.sin(n / 5) ** 2) / 25 + Math.floor(n / 40) * 0.3;
    const uneven = "settb=1/12800,setpts='(N+2*sin(N/5)*sin(N/5))/25/TB+floor(N/40)*0.3/TB'";
    const varying = numberedFrames(FRAMES, 25).map((word) =>
      word.startsWith('format=') ? `${word},${uneven}` : word,
    );
    const source = clips.make(
      'vfr.mp4',
      ...varying,
      '-fps_mode',
      'vfr',
      '-enc_time_base',
      '1/12800',
      ...x264,
    );
    await measure(
      'variable rate',
      source,
      Array.from({ length: FRAMES }, (_, n) => stamp(n)),
      [],
    );
  } finally {
    clips.remove();
  }
  printTable('frames at their own times', rows);
}
