import { readFileSync } from 'node:fs';
import { crc32, deflateSync } from 'node:zlib';
import sharp from 'sharp';
import { percentile } from '../../bench/measure.js';
import type { BenchRow } from '../../bench/table.js';
import type { FootageView, PieceView, TrialView } from '../../packages/core/src/api/index.js';
import { type BuiltImage, buildGif } from '../../packages/core/src/testing/gif-builder.js';
import { clipFolder, numberedFrames } from '../../packages/server/test/clips.js';
import { startServer } from '../server-process.js';
import { ask, watch } from './asking.js';

const MOST_MEGABYTES = 1536;
const WANTED_MS = 100;
/** Longest time until each of them is answered, s. */
const LONGEST_SECONDS = 30;

/** The tiny and the huge: what a file claims must not decide what it costs. */
export async function holdExtremes(): Promise<BenchRow[]> {
  const server = await startServer({ demo: false });
  const { url } = server;
  const rows: BenchRow[] = [];
  const watching = watch(url, server.pid);
  const timed = async (what: string, work: () => Promise<string>) => {
    const from = performance.now();
    const came = await work();
    const seconds = (performance.now() - from) / 1000;
    rows.push({
      what: `${what}: ${came}`,
      figure: `${seconds.toFixed(1)} s`,
      wanted: `≤ ${LONGEST_SECONDS} s, no 5xx`,
      reached: seconds <= LONGEST_SECONDS && !/\b(0|5\d\d)$/.test(came),
    });
  };
  const upload = async (name: string, bytes: Uint8Array) => {
    const sent = await ask<FootageView & { code?: string }>(url, 'POST', `footage?name=${name}`, bytes);
    if (sent?.status === 201) {
      const last = sent.body.frameCount - 1;
      const shown = await fetch(`${url}/api/footage/${sent.body.id}/frames/${last}`);
      await shown.arrayBuffer();
      return { id: sent.body.id, told: `taken, its last frame ${shown.status}` };
    }
    return { id: null, told: `refused (${sent?.body.code}), ${sent?.status ?? 0}` };
  };
  try {
    for (const [name, width, height, frames] of [
      ['1.4 KB GIF of 8000 × 4500', 8000, 4500, 60],
      ['69 KB GIF of 4000 × 4000', 4000, 4000, 3000],
    ] as const) {
      await timed(name, async () => (await upload('bomb.gif', bombGif(width, height, frames))).told);
    }
    await timed(
      '0.9 MB PNG of 119 million pixels',
      async () => (await upload('wall.png', wallPng(11_900, 10_000))).told,
    );
    await timed('six of them at once', async () => {
      const made = await Promise.all(
        Array.from({ length: 6 }, (_, i) => upload(`wall ${i}.png`, wallPng(11_900, 9990 - i))),
      );
      return made.map(({ told }) => told).join('; ');
    });
    await timed(
      '65 KB MOV that claims a million frames',
      async () => (await upload('many.mov', manyFrames())).told,
    );
    await timed('1.5 MB recipe of wrong edits', async () => {
      const edits = Array.from({ length: 60_000 }, (_, i) => ({ kind: 'none', frames: [[i, 'x']] }));
      const answer = await ask(url, 'POST', 'pieces/none/trials', {
        recipe: { version: 7, loop: { edits } },
      });
      return String(answer?.status ?? 0);
    });
    for (const side of [1, 8]) {
      await timed(`a trial of ${side} × ${side} px`, async () => {
        const gif = await tiny(side);
        const { id } = await upload(`tiny${side}.gif`, gif);
        const piece = await ask<PieceView>(url, 'POST', 'pieces', { footage: id });
        const recipe = piece?.body.recipe;
        const asked = await ask<TrialView>(url, 'POST', `pieces/${piece?.body.id}/trials`, { recipe });
        for (;;) {
          const all = await ask<TrialView[]>(url, 'GET', `pieces/${piece?.body.id}/trials`);
          const state = all?.body.find((one) => one.id === asked?.body.id)?.state;
          if (state !== 'waiting' && state !== 'working') return String(state);
          await new Promise((resolve) => setTimeout(resolve, 50));
        }
      });
    }
  } finally {
    const { times, mostMegabytes } = await watching.stop();
    await server.stop();
    const p99 = percentile(times, 0.99);
    rows.push(
      {
        what: 'the tiny and the huge: most memory of the server',
        figure: `${mostMegabytes.toFixed(0)} MB`,
        wanted: `≤ ${MOST_MEGABYTES} MB`,
        reached: mostMegabytes <= MOST_MEGABYTES,
      },
      {
        what: `the tiny and the huge: a small GET meanwhile, p99 of ${times.length}`,
        figure: `${p99.toFixed(0)} ms`,
        wanted: `≤ ${WANTED_MS} ms`,
        reached: p99 <= WANTED_MS,
        isTime: true,
      },
    );
  }
  return rows;
}

/** Frames of a few bytes on a screen of many pixels. */
function bombGif(width: number, height: number, frames: number): Uint8Array {
  const image: BuiltImage = {
    ...{ left: 0, top: 0, width: 1, height: 1, indices: new Uint8Array(1), codeBits: 2, delayCs: 10 },
    ...{ disposal: 1, transparentIndex: null, interlaced: false, localTable: null },
  };
  return buildGif(width, height, new Uint8Array(12), new Array(frames).fill(image));
}

/** A PNG of one colour, which packs to nearly nothing. */
function wallPng(width: number, height: number): Buffer {
  const chunk = (type: string, data: Buffer) => {
    const body = Buffer.concat([Buffer.from(type, 'latin1'), data]);
    const out = Buffer.alloc(body.length + 8);
    out.writeUInt32BE(data.length, 0);
    body.copy(out, 4);
    out.writeUInt32BE(crc32(body), body.length + 4);
    return out;
  };
  const header = Buffer.alloc(13);
  header.writeUInt32BE(width, 0);
  header.writeUInt32BE(height, 4);
  header.set([8, 2, 0, 0, 0], 8);
  const rows = deflateSync(Buffer.alloc(height * (width * 3 + 1)), { level: 1 });
  return Buffer.concat([
    Buffer.from('\x89PNG\r\n\x1a\n', 'latin1'),
    chunk('IHDR', header),
    chunk('IDAT', rows),
    chunk('IEND', Buffer.alloc(0)),
  ]);
}

/** A small QuickTime file whose table of samples says that there are a million. */
function manyFrames(): Buffer {
  const clips = clipFolder();
  try {
    const bytes = readFileSync(clips.make('a.mov', ...numberedFrames(30, 30), '-c:v', 'mjpeg'));
    // stts: one entry, count × duration (QuickTime File Format, “Time-to-sample atoms”); stsz: count.
    const stts = bytes.indexOf('stts', 0, 'latin1');
    bytes.writeUInt32BE(1_000_000, stts + 12);
    const stsz = bytes.indexOf('stsz', 0, 'latin1');
    bytes.writeUInt32BE(1, stsz + 8);
    bytes.writeUInt32BE(1_000_000, stsz + 12);
    return bytes;
  } finally {
    clips.remove();
  }
}

async function tiny(side: number): Promise<Buffer> {
  const frames = Array.from({ length: 4 }, (_, i) =>
    sharp({ create: { width: side, height: side, channels: 3, background: { r: i * 60, g: 90, b: 40 } } })
      .png()
      .toBuffer(),
  );
  return sharp(await Promise.all(frames), { join: { animated: true } })
    .gif({ delay: [100, 100, 100, 100] })
    .toBuffer();
}
