import { readFileSync } from 'node:fs';
import { Agent, request } from 'node:http';
import { join } from 'node:path';
import type {
  FootageView,
  HostView,
  KindsView,
  PieceView,
  SendingView,
  TrialView,
} from '@muted-pond/core/api';
import { createFrame, type PixelFrame } from '@muted-pond/core/pixels';
import { changeWeigh } from '@muted-pond/core/recipe';
import { measureLikeness } from '@muted-pond/core/weigh';
import sharp from 'sharp';
import { av1Crf, fileKind, h264Crf } from '../packages/core/src/files/index.js';
import { startServer } from '../tools/server-process.js';
import { decodeAll, percentile, timeProcess } from './measure.js';
import { type BenchRow, printTable } from './table.js';

const WIDTH = 480;
const HEIGHT = 270;
const RATE = 12;
const SECONDS = 3;
const CLIPS = ['lantern.mp4', 'kettle.mov', 'koi.webm'];
/** Both are timed in turn; the smallest of each counts. */
const TURNS = 3;

interface KindCase {
  readonly kind: 'webp' | 'avif' | 'mp4' | 'apng';
  readonly ending: string;
  /** The same encoder at the same settings, driven plainly. */
  readonly theirs: readonly string[];
  readonly flags: readonly string[];
  readonly wantedBytes: number;
  readonly name?: string;
}

const TO_YUV = ['-vf', 'scale=out_color_matrix=bt709:out_range=tv,format=yuv420p', '-colorspace', 'bt709'];
const quality = (kind: 'avif' | 'mp4') => fileKind(kind).settings.defaults as { quality: number };

const CASES: readonly KindCase[] = [
  {
    kind: 'webp',
    ending: 'webp',
    theirs: ['-c:v', 'libwebp_anim', '-quality', '75', '-compression_level', '4', '-loop', '0'],
    flags: [],
    wantedBytes: 1,
  },
  {
    kind: 'avif',
    ending: 'avif',
    theirs: [
      ...[...TO_YUV, '-c:v', 'libaom-av1', '-cpu-used', '6', '-row-mt', '1', '-b:v', '0'],
      ...['-crf', String(av1Crf(quality('avif').quality))],
    ],
    flags: [],
    wantedBytes: 1,
  },
  {
    kind: 'mp4',
    ending: 'mp4',
    theirs: [
      ...[...TO_YUV, '-c:v', 'libx264', '-preset', 'slow', '-profile:v', 'high', '-movflags', '+faststart'],
      ...['-crf', String(h264Crf(quality('mp4').quality))],
    ],
    flags: [],
    wantedBytes: 1,
  },
  {
    kind: 'apng',
    ending: 'png',
    name: 'apng, settled',
    theirs: ['-c:v', 'apng', '-plays', '0', '-pred', 'mixed', '-pix_fmt', 'rgb24', '-f', 'apng'],
    flags: [],
    wantedBytes: 0.9,
  },
  {
    kind: 'apng',
    ending: 'png',
    name: 'apng, exact',
    theirs: ['-c:v', 'apng', '-plays', '0', '-pred', 'mixed', '-pix_fmt', 'rgb24', '-f', 'apng'],
    flags: ['--quality-of', 'apng=exact'],
    wantedBytes: 0.9,
  },
];

/** Each kind against its own encoder, all kinds at once, and many viewers of one page. */
export async function benchSend(root: string, work: string): Promise<void> {
  for (const clip of CLIPS) await benchKinds(root, work, clip);
  const server = await startServer({ demo: true });
  try {
    printTable('Send', [await allKinds(server.url), ...(await manyViewers(server.url))]);
  } finally {
    await server.stop();
  }
}

async function benchKinds(root: string, work: string, clip: string): Promise<void> {
  const lossless = join(work, `${clip}.send.mkv`);
  await timeProcess('ffmpeg', [
    ...['-v', 'error', '-y', '-ss', '1', '-t', String(SECONDS), '-i', join(root, 'demo/footage', clip)],
    ...[
      '-vf',
      `fps=${RATE},scale=${WIDTH}:${HEIGHT}:flags=lanczos`,
      '-c:v',
      'ffv1',
      '-pix_fmt',
      'bgr0',
      lossless,
    ],
  ]);
  const raw = join(work, `${clip}.rgba`);
  await timeProcess('ffmpeg', [
    ...['-v', 'error', '-y', '-i', lossless, '-pix_fmt', 'rgba', '-f', 'rawvideo', raw],
  ]);
  const reference = framesOf(decodeAll(lossless, WIDTH, HEIGHT));
  const rows: BenchRow[] = [];
  for (const one of CASES) {
    const theirs = join(work, `theirs.${one.ending}`);
    const ours = join(work, `ours.${one.ending}`);
    const report = join(work, 'report.json');
    const theirMs: number[] = [];
    const ourMs: number[] = [];
    for (let turn = 0; turn < TURNS; turn++) {
      theirMs.push(
        await timeProcess('ffmpeg', [
          ...['-v', 'error', '-y', '-f', 'rawvideo', '-pix_fmt', 'rgba', '-s', `${WIDTH}x${HEIGHT}`],
          ...['-framerate', String(RATE), '-i', raw, ...one.theirs, theirs],
        ]),
      );
      await timeProcess(process.execPath, [
        join(root, 'packages/server/dist/cli/main.js'),
        ...['--source', lossless, '--width', String(WIDTH), '--fps', String(RATE), ...one.flags],
        ...['--out', ours, '--report', report],
      ]);
      ourMs.push(JSON.parse(readFileSync(report, 'utf8')).ms.encode);
    }
    const bytes = readFileSync(ours).length / readFileSync(theirs).length;
    const likeness = await ssimOf(one.kind, ours, reference);
    const likenessThere = await ssimOf(one.kind, theirs, reference);
    const name = one.name ?? one.kind;
    // What is settled is not what was compared: the row only tells how much it saves.
    const isSettled = name === 'apng, settled';
    const isNoWorse = likeness >= likenessThere - 1e-4;
    rows.push({
      what: `${name}, bytes ÷ the encoder’s alone`,
      figure: `${bytes.toFixed(3)} (SSIM ${likeness.toFixed(4)}, there ${likenessThere.toFixed(4)})`,
      wanted: isSettled ? '' : `≤ ${one.wantedBytes} at no lower SSIM`,
      reached: isSettled ? null : bytes <= one.wantedBytes && isNoWorse,
    });
    const time = Math.min(...ourMs) / Math.min(...theirMs);
    rows.push({
      what: `${name}, time from frames to the file`,
      figure: `${time.toFixed(2)} (${Math.min(...ourMs)} ms)`,
      wanted: one.kind === 'apng' ? '' : '≤ 1.1',
      reached: one.kind === 'apng' ? null : time <= 1.1,
    });
  }
  printTable(`${clip}, ${WIDTH} px, ${RATE} fps, ${SECONDS} s`, rows);
}

function framesOf(pictures: readonly Uint8Array[]): PixelFrame[] {
  return pictures.map((rgba) => createFrame(WIDTH, HEIGHT, rgba));
}

async function ssimOf(kind: string, path: string, reference: readonly PixelFrame[]): Promise<number> {
  if (kind !== 'webp') return measureLikeness(reference, framesOf(decodeAll(path, WIDTH, HEIGHT))).ssim;
  const picture = sharp(readFileSync(path), { pages: -1, limitInputPixels: false });
  const { delay = [] } = await picture.metadata();
  const roll = await picture.ensureAlpha().raw().toBuffer();
  const size = WIDTH * HEIGHT * 4;
  // A frame that changes nothing lengthens the one before.
  const pages = delay.flatMap((ms, page) =>
    Array.from(
      { length: Math.max(1, Math.round((ms * RATE) / 1000)) },
      () => new Uint8Array(roll.subarray(page * size, (page + 1) * size)),
    ),
  );
  return measureLikeness(reference, framesOf(pages.slice(0, reference.length))).ssim;
}

const ask = async <T>(url: string, method: string, path: string, body?: unknown): Promise<T> => {
  const response = await fetch(`${url}/api/${path}`, {
    method,
    ...(body ? { headers: { 'content-type': 'application/json' }, body: JSON.stringify(body) } : {}),
  });
  const text = await response.text();
  return (text ? JSON.parse(text) : null) as T;
};

async function until<T>(look: () => Promise<T>, isOver: (seen: T) => boolean): Promise<T> {
  for (;;) {
    const seen = await look();
    if (isOver(seen)) return seen;
    await new Promise((resolve) => setTimeout(resolve, 50));
  }
}

/** A piece over the lantern: 480 px, 12 frames a second, three seconds; and the trial that is made of it. */
async function newPiece(url: string): Promise<{ piece: PieceView; trial: TrialView }> {
  const footage = await until(
    () => ask<FootageView[]>(url, 'GET', 'footage'),
    (all) => all.some(({ name, ready }) => name === 'lantern.mp4' && ready),
  );
  const { id } = footage.find(({ name }) => name === 'lantern.mp4') as FootageView;
  const piece = await ask<PieceView>(url, 'POST', 'pieces', { footage: id, name: 'Bench' });
  const recipe = {
    ...piece.recipe,
    weigh: changeWeigh(piece.recipe.weigh, { width: WIDTH, frameRate: RATE }),
  };
  await ask(url, 'POST', `pieces/${piece.id}/trials`, { recipe });
  const trials = await until(
    () => ask<TrialView[]>(url, 'GET', `pieces/${piece.id}/trials`),
    ([first]) => first?.state === 'done',
  );
  return { piece: { ...piece, recipe }, trial: trials[0] };
}

const WANTED_ALL_SECONDS = 15;

async function allKinds(url: string): Promise<BenchRow> {
  const { piece } = await newPiece(url);
  const began = performance.now();
  await ask(url, 'POST', `pieces/${piece.id}/kinds`, { recipe: piece.recipe });
  const done = await until(
    () => ask<KindsView>(url, 'GET', `pieces/${piece.id}/kinds`),
    (view) => view.state !== 'working',
  );
  const seconds = (performance.now() - began) / 1000;
  return {
    what: `all kinds of a loop, ${done.made.length} files, ${done.made.filter(({ trial }) => !trial).length} not made`,
    figure: `${seconds.toFixed(1)} s`,
    wanted: `≤ ${WANTED_ALL_SECONDS} s`,
    reached: seconds <= WANTED_ALL_SECONDS && done.made.every(({ trial }) => trial !== null),
  };
}

const VIEWERS = 200;
const LOOKS = 10;
const WANTED_P99_MS = 50;

async function manyViewers(url: string): Promise<BenchRow[]> {
  const { piece, trial } = await newPiece(url);
  await ask(url, 'POST', `pieces/${piece.id}/sending`, {
    ...{ trial: trial.id, places: ['blog-column'], fits: false, title: 'Bench', about: '' },
  });
  await until(
    () => ask<SendingView>(url, 'GET', `pieces/${piece.id}/sending`),
    ({ state }) => state !== 'working',
  );
  const [page] = (await ask<HostView>(url, 'GET', 'practice-host')).pages;
  const etag = (await fetch(page.direct, { method: 'HEAD' })).headers.get('etag') ?? '';
  const cached = await watch(page.direct, { 'if-none-match': etag });
  const whole = await watch(page.direct, {});
  return [
    {
      what: `${VIEWERS} viewers within a second, a file that they have (${LOOKS} looks each)`,
      figure: `p99 ${percentile(cached, 0.99).toFixed(1)} ms`,
      wanted: `≤ ${WANTED_P99_MS} ms`,
      reached: percentile(cached, 0.99) <= WANTED_P99_MS,
    },
    {
      what: `the same, all ${Math.round(page.bytes / 1000)} KB fetched each time`,
      figure: `p99 ${percentile(whole, 0.99).toFixed(1)} ms`,
      wanted: '',
      reached: null,
    },
  ];
}

/** How long each look takes, ms. Every viewer has a line of its own, and looks again about once a second. */
async function watch(url: string, headers: Record<string, string>): Promise<number[]> {
  const times: number[] = [];
  const look = (agent: Agent) =>
    new Promise<void>((resolve, reject) => {
      const began = performance.now();
      request(url, { agent, headers }, (response) => {
        response.resume();
        response.on('end', () => {
          times.push(performance.now() - began);
          resolve();
        });
      })
        .on('error', reject)
        .end();
    });
  await Promise.all(
    Array.from({ length: VIEWERS }, async (_, viewer) => {
      const agent = new Agent({ keepAlive: true, maxSockets: 1 });
      for (let turn = 0; turn < LOOKS; turn++) {
        // They come as viewers do: not all in the same thousandth of a second.
        await new Promise((resolve) => setTimeout(resolve, ((viewer * 37) % 1000) / (turn === 0 ? 1 : 2)));
        await look(agent);
      }
      agent.destroy();
    }),
  );
  return times;
}
