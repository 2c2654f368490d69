import { spawnSync } from 'node:child_process';
import { createFrame } from '@muted-pond/core/pixels';
import { structuralSimilarity } from '@muted-pond/core/weigh';
import { toLumaChroma } from '../packages/core/src/weigh/luma.js';

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
const clip = process.argv[2];
const ref = frames(`/tmp/b/${clip}.mkv`).map(toLumaChroma);
for (const g of ['ff', 'mp']) {
  const out = frames(`/tmp/b/${clip}.${g}.gif`).map(toLumaChroma);
  const m = [0, 0, 0];
  const n = Math.min(ref.length, out.length);
  for (let i = 0; i < n; i++) {
    m[0] += structuralSimilarity(ref[i].luma, out[i].luma, 480, 270) / n;
    m[1] += structuralSimilarity(ref[i].blueDifference, out[i].blueDifference, 480, 270) / n;
    m[2] += structuralSimilarity(ref[i].redDifference, out[i].redDifference, 480, 270) / n;
  }
  console.log(
    g,
    m.map((x) => x.toFixed(4)),
  );
}
