import { readFileSync } from 'node:fs';
import sharp from 'sharp';
import { percentile } from '../../bench/measure.js';
import type { BenchRow } from '../../bench/table.js';
import type { FootageView } from '../../packages/core/src/api/index.js';
import { seeded, wholeFrom } from '../../packages/core/src/testing/seeded.js';
import { type ClipFolder, clipFolder, numberedFrames } from '../../packages/server/test/clips.js';
import { startServer } from '../server-process.js';
import { ask, watch } from './asking.js';

const MOST_MEGABYTES = 1536;
const WANTED_MS = 100;
/** Files under way at once. */
const AT_ONCE = 3;

/** Whole small files of every kind that can be brought in. */
async function wholeFiles(clips: ClipFolder): Promise<[name: string, bytes: Buffer][]> {
  const clip = (name: string, ...args: string[]) =>
    readFileSync(clips.make(name, ...numberedFrames(24, 12), ...args));
  const noise = sharp(
    Buffer.from(Array.from({ length: 90 * 60 * 3 }, (_, i) => (i * 7919 + ((i * i) >> 3)) % 251)),
    {
      raw: { width: 90, height: 60, channels: 3 },
    },
  );
  return [
    ['a.mp4', clip('a.mp4', '-c:v', 'libx264', '-movflags', '+faststart')],
    ['a.mov', clip('a.mov', '-c:v', 'prores_ks')],
    ['a.webm', clip('a.webm', '-c:v', 'libvpx', '-b:v', '1M')],
    ['a.mkv', clip('a.mkv', '-c:v', 'libx264')],
    ['a.avi', clip('a.avi', '-c:v', 'mpeg4')],
    ['a.gif', clip('a.gif')],
    ['apng.png', clip('apng.png', '-f', 'apng')],
    ['anim.webp', clip('anim.webp', '-c:v', 'libwebp_anim')],
    ['p.png', await noise.png().toBuffer()],
    ['p.jpg', await noise.jpeg().toBuffer()],
    ['p.webp', await noise.webp().toBuffer()],
    ['p.tiff', await noise.tiff().toBuffer()],
    ['p.avif', await noise.avif().toBuffer()],
  ];
}

/** Some bytes changed, some taken out, some doubled, the end cut off, or another file's bytes put in. */
function mutate(bytes: Buffer, other: Buffer, random: () => number): Buffer {
  const made = Buffer.from(bytes);
  const at = () => wholeFrom(random, 0, made.length - 1);
  switch (wholeFrom(random, 0, 5)) {
    case 0:
      for (let i = 0; i < 1 + random() * 12; i++) made[at()] = wholeFrom(random, 0, 255);
      return made;
    case 1:
      // Where headers lie.
      for (let i = 0; i < 1 + random() * 6; i++)
        made[wholeFrom(random, 0, Math.min(255, made.length - 1))] = wholeFrom(random, 0, 255);
      return made;
    case 2:
      return made.subarray(0, at());
    case 3: {
      const [from, to] = [at(), at()].sort((a, b) => a - b);
      return Buffer.concat([made.subarray(0, from), made.subarray(to)]);
    }
    case 4: {
      const [from, to] = [at(), at()].sort((a, b) => a - b);
      return Buffer.concat([made.subarray(0, to), made.subarray(from)]);
    }
    default: {
      const from = at();
      const part = other.subarray(0, wholeFrom(random, 1, Math.min(400, other.length)));
      part.copy(made, from, 0, Math.min(part.length, made.length - from));
      return made;
    }
  }
}

/** Brings mutated files of every kind in, and looks at the first frame of those that are taken. */
export async function holdMutants(count: number, seed: number): Promise<BenchRow[]> {
  const random = seeded(seed);
  const clips = clipFolder();
  const server = await startServer({ demo: false });
  const watching = watch(server.url, server.pid);
  const statuses = new Map<string, number>();
  const bad: string[] = [];
  try {
    const whole = await wholeFiles(clips);
    const made = Array.from({ length: count }, (_, i) => {
      const [name, bytes] = whole[i % whole.length];
      const [, other] = whole[wholeFrom(random, 0, whole.length - 1)];
      return { name: `${i} ${name}`, bytes: mutate(bytes, other, random) };
    });
    const send = async () => {
      for (let next = made.pop(); next; next = made.pop()) {
        const { name, bytes } = next;
        const sent = await ask<FootageView>(
          server.url,
          'POST',
          `footage?name=${encodeURIComponent(name)}`,
          bytes,
        );
        const status = sent?.status ?? 0;
        statuses.set(String(status), (statuses.get(String(status)) ?? 0) + 1);
        if (status === 0 || status >= 500) bad.push(`${name}: ${status}`);
        if (status !== 201 || !sent) continue;
        for (const frame of new Set([0, sent.body.frameCount - 1])) {
          const shown = await fetch(`${server.url}/api/footage/${sent.body.id}/frames/${frame}`).catch(
            () => null,
          );
          await shown?.arrayBuffer();
          if (!shown || shown.status >= 500) bad.push(`${name}, frame ${frame}: ${shown?.status ?? 0}`);
        }
      }
    };
    await Promise.all(Array.from({ length: AT_ONCE }, send));
  } finally {
    clips.remove();
  }
  const { times, mostMegabytes } = await watching.stop();
  await server.stop();
  for (const sentence of bad.slice(0, 10)) process.stdout.write(`  ${sentence}\n`);
  const p99 = percentile(times, 0.99);
  return [
    {
      what: `${count} mutants (${[...statuses].map(([status, n]) => `${n} × ${status}`).join(', ')}): no answer, or 500 and more`,
      figure: String(bad.length),
      wanted: '0',
      reached: bad.length === 0,
    },
    {
      what: `${count} mutants: most memory of the server`,
      figure: `${mostMegabytes.toFixed(0)} MB`,
      wanted: `≤ ${MOST_MEGABYTES} MB`,
      reached: mostMegabytes <= MOST_MEGABYTES,
    },
    {
      what: `${count} mutants: a small GET meanwhile, p99 of ${times.length}`,
      figure: `${p99.toFixed(0)} ms`,
      wanted: `≤ ${WANTED_MS} ms`,
      reached: p99 <= WANTED_MS,
    },
  ];
}
