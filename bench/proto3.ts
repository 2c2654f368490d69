import { spawnSync } from 'node:child_process';
import { createFrame } from '@muted-pond/core/pixels';
import { settle } from '@muted-pond/core/settle';

const frames = (f: string) => {
  const r = spawnSync(
    'ffmpeg',
    ['-v', 'error', '-i', f, '-fps_mode', 'passthrough', '-pix_fmt', 'rgba', '-f', 'rawvideo', '-'],
    { maxBuffer: 1 << 30 },
  ).stdout;
  const n = 480 * 270 * 4;
  return Array.from({ length: r.length / n }, (_, i) =>
    createFrame(480, 270, new Uint8Array(r.subarray(i * n, i * n + n))),
  );
};
Object.assign(globalThis, { MOST: 6, KNEE: 100, NC: [3, 2.2, 1.7, 1.3, 1, 0.85, 0.7, 0.6, 0.5] });
const s = settle(frames(`/tmp/b/${process.argv[2]}.mkv`), Number(process.argv[3] ?? 2));
const grid = Array.from({ length: 9 }, () => Array(16).fill(0));
for (let f = 1; f < s.durations.length; f++)
  for (let p = 0; p < 480 * 270; p++)
    if (s.durations[f][p]) grid[Math.floor(p / 480 / 30)][Math.floor((p % 480) / 30)]++;
for (const r of grid)
  console.log(
    r.map((v) => String(Math.round((100 * v) / 900 / (s.durations.length - 1))).padStart(3)).join(' '),
  );
