import { readFileSync } from 'node:fs';
import sharp from 'sharp';
import type { BenchRow } from '../../bench/table.js';
import type { FootageView } from '../../packages/core/src/api/index.js';
import { seeded, wholeFrom } from '../../packages/core/src/testing/seeded.js';
import { type ClipFolder, clipFolder, numberedFrames } from '../../packages/server/test/clips.js';
import { ask } from './asking.js';
import { mutate } from './mutate.js';
import { underFire } from './under-fire.js';

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

/** Brings mutated files of every kind in, and looks at the first and the last frame of those that are taken. */
export async function holdMutants(count: number, seed: number): Promise<BenchRow[]> {
  const random = seeded(seed);
  const clips = clipFolder();
  try {
    const whole = await wholeFiles(clips);
    const shots = Array.from({ length: count }, (_, i) => {
      const [name, bytes] = whole[i % whole.length];
      const [, other] = whole[wholeFrom(random, 0, whole.length - 1)];
      return { name: `${i} ${name}`, bytes: mutate(bytes, other, random) };
    });
    return await underFire('mutants', shots, async (url, { name, bytes }, { answered, failed }) => {
      const path = `footage?name=${encodeURIComponent(name)}`;
      const sent = await ask<FootageView>(url, 'POST', path, bytes);
      answered(name, sent?.status ?? 0);
      if (sent?.status !== 201) return;
      for (const frame of new Set([0, sent.body.frameCount - 1])) {
        const shown = await fetch(`${url}/api/footage/${sent.body.id}/frames/${frame}`).catch(() => null);
        await shown?.arrayBuffer();
        if (!shown || shown.status >= 500) failed(`${name}, frame ${frame}: ${shown?.status ?? 0}`);
      }
    });
  } finally {
    clips.remove();
  }
}
