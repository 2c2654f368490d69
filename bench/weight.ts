import { readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { readGif } from '@muted-pond/core/gif';
import { DITHER_NAMES } from '@muted-pond/core/palette';
import { createFrame, type PixelFrame } from '@muted-pond/core/pixels';
import { createMask, featherMask, layRipples, resizeMask } from '@muted-pond/core/still';
import { measureLikeness } from '@muted-pond/core/weigh';
import { decodeAll, timeProcess } from './measure.js';
import { type BenchRow, printTable } from './table.js';

interface WeightCase {
  readonly clip: string;
  readonly from: number;
  /** Pixels, of a clip that is not 16:9. */
  readonly height?: number;
  /** A cinemagraph: only what truly moves does, over the first frame, with a feathered edge. */
  readonly held?: boolean;
  /** What is asked of our side. */
  readonly flags: readonly string[];
  /** Bytes as a share of ffmpeg's, at no lower SSIM and no higher motion error. */
  readonly wanted: number;
  /** Time of the whole process as a share of ffmpeg's. */
  readonly wantedTime: number;
}

/** Settle and squeeze at which the likeness and the motion of ffmpeg's best are met. */
const at = (settle: number, squeeze: number) => ['--settle', String(settle), '--squeeze', String(squeeze)];

const CASES: readonly WeightCase[] = [
  { clip: 'lantern.mp4', from: 1, flags: at(3.55, 3.46), wanted: 0.25, wantedTime: 1 },
  { clip: 'lantern.mp4', from: 1, held: true, flags: at(3.01, 3.15), wanted: 0.34, wantedTime: 1 },
  { clip: 'kettle.mov', from: 1, flags: at(1.645, 1.42), wanted: 0.25, wantedTime: 1.2 },
  { clip: 'koi.webm', from: 1, flags: at(2.73, 2.23), wanted: 0.42, wantedTime: 1 },
  { clip: 'booking.mp4', from: 1, height: 300, flags: at(0.76, 0.55), wanted: 0.62, wantedTime: 1.5 },
];

const WIDTH = 480;
const HEIGHT = 270;
const RATE = 12;
const SECONDS = 3;
/** Edge of what moves in the cinemagraph, px of the result. */
const FEATHER = 6;
/** Levels. */
const WANTED_SHIMMER = 0.02;
/** Whole processes are timed this often, in turn; the least of each counts. */
const TURNS = 5;

/**
 * Bytes, likeness and time of our command line against ffmpeg's palettegen and paletteuse at their best, both
 * on the same lossless frames, each as a whole process.
 */
export async function benchWeight(root: string, work: string): Promise<void> {
  for (const one of CASES) {
    const lossless = join(work, `${one.clip}.mkv`);
    await timeProcess('ffmpeg', [
      ...['-v', 'error', '-y', '-ss', String(one.from), '-t', String(SECONDS)],
      ...['-i', join(root, 'demo/footage', one.clip)],
      ...[
        '-vf',
        `fps=${RATE},scale=${WIDTH}:${one.height ?? HEIGHT}:flags=lanczos`,
        '-c:v',
        'ffv1',
        '-pix_fmt',
        'bgr0',
        lossless,
      ],
    ]);
    if (one.held) await holdStill(root, one.clip, lossless);
    const theirs = join(work, `${one.clip}.theirs.gif`);
    const ours = join(work, `${one.clip}.ours.gif`);
    const theirTimes: number[] = [];
    const ourTimes: number[] = [];
    for (let turn = 0; turn < TURNS; turn++) {
      theirTimes.push(
        await timeProcess('ffmpeg', [
          ...['-v', 'error', '-y', '-i', lossless, '-lavfi'],
          'split[a][b];[a]palettegen=stats_mode=full[p];[b][p]paletteuse=dither=none:diff_mode=rectangle',
          theirs,
        ]),
      );
      ourTimes.push(
        await timeProcess(process.execPath, [
          join(root, 'packages/server/dist/cli/main.js'),
          ...['--source', lossless, '--width', String(WIDTH), '--fps', String(RATE), '--dither', 'none'],
          ...one.flags,
          ...['--out', ours],
        ]),
      );
    }
    const rows = compare(one, lossless, theirs, ours, Math.min(...ourTimes) / Math.min(...theirTimes));
    // What stands still must not crawl under any dither, at its full strength too.
    if (!one.held) rows.push(await ditherRow(root, one, lossless, ours));
    printTable(
      `${one.clip}${one.held ? ' as a cinemagraph' : ''}, ${WIDTH} px, ${RATE} fps, ${SECONDS} s`,
      rows,
    );
  }
}

async function ditherRow(root: string, one: WeightCase, lossless: string, out: string): Promise<BenchRow> {
  const reference = frames(lossless, one.height);
  const shimmers: number[] = [];
  for (const dither of DITHER_NAMES) {
    await timeProcess(process.execPath, [
      join(root, 'packages/server/dist/cli/main.js'),
      ...['--source', lossless, '--width', String(WIDTH), '--fps', String(RATE), ...one.flags],
      ...['--dither', dither, '--dither-strength', '100', '--out', out],
    ]);
    shimmers.push(measureLikeness(reference, inTime(out, reference.length, one.height)).shimmer);
  }
  const most = Math.max(...shimmers);
  return {
    what: 'sh, the most of any dither',
    figure: most.toFixed(3),
    wanted: `≤ ${WANTED_SHIMMER}`,
    reached: most <= WANTED_SHIMMER,
  };
}

function compare(one: WeightCase, lossless: string, theirs: string, ours: string, time: number): BenchRow[] {
  const { height } = one;
  const reference = frames(lossless, height);
  const their = measureLikeness(reference, inTime(theirs, reference.length, height));
  const our = measureLikeness(reference, inTime(ours, reference.length, height));
  const theirBytes = readFileSync(theirs).length;
  const ourBytes = readFileSync(ours).length;
  const ratio = ourBytes / theirBytes;
  const both = (ourFigure: number, theirFigure: number, digits: number) =>
    `${ourFigure.toFixed(digits)} (ffmpeg ${theirFigure.toFixed(digits)})`;
  return [
    { what: 'bytes', figure: `${ourBytes} (ffmpeg ${theirBytes})`, wanted: '', reached: null },
    {
      what: 'bytes ÷ ffmpeg',
      figure: ratio.toFixed(3),
      wanted: `≤ ${one.wanted}`,
      reached: ratio <= one.wanted,
    },
    {
      what: 'SSIM',
      figure: both(our.ssim, their.ssim, 4),
      wanted: 'no lower',
      reached: our.ssim >= their.ssim,
    },
    {
      what: 'te, motion error',
      figure: both(our.motionError, their.motionError, 3),
      wanted: 'no higher',
      reached: our.motionError <= their.motionError,
    },
    {
      what: 'sh, shimmer',
      figure: both(our.shimmer, their.shimmer, 3),
      wanted: `≤ ${WANTED_SHIMMER}`,
      reached: our.shimmer <= WANTED_SHIMMER,
    },
    { what: 'lp, smooth PSNR', figure: both(our.smoothPsnr, their.smoothPsnr, 1), wanted: '', reached: null },
    {
      what: 'time ÷ ffmpeg',
      figure: time.toFixed(2),
      wanted: `≤ ${one.wantedTime}`,
      reached: time <= one.wantedTime,
    },
  ];
}

function frames(path: string, height = HEIGHT): PixelFrame[] {
  return decodeAll(path, WIDTH, height).map((rgba) => createFrame(WIDTH, height, rgba));
}

/** What a file shows at each moment of the reel, where a picture may stand for several frames. */
function inTime(path: string, count: number, height?: number): PixelFrame[] {
  const pictures = frames(path, height);
  let until = 0;
  const ends = readGif(readFileSync(path)).images.map(({ delayCs }) => {
    until += delayCs;
    return until;
  });
  // Delays are whole hundredths: each frame is looked at one after it is due.
  return Array.from({ length: count }, (_, f) => {
    const due = Math.min((f * 100) / RATE + 1, until - 1);
    return pictures[ends.findIndex((end) => end > due)];
  });
}

/** Lays what moves over the first frame, and writes the frames back without loss. */
async function holdStill(root: string, clip: string, lossless: string): Promise<void> {
  const truth = join(root, 'demo/footage', clip.replace(/\.\w+$/, '.moves.png'));
  const [moves] = decodeAll(truth, 1280, 720);
  const painted = createMask(
    1280,
    720,
    Uint8Array.from({ length: 1280 * 720 }, (_, p) => moves[p * 4]),
  );
  const mask = featherMask(resizeMask(painted, { width: WIDTH, height: HEIGHT }), FEATHER);
  const [plate, ...others] = frames(lossless);
  const laid = [plate, ...others].map((frame) => layRipples(plate, frame, mask).rgba);
  const raw = `${lossless}.raw`;
  writeFileSync(raw, Buffer.concat(laid));
  await timeProcess('ffmpeg', [
    ...[
      '-v',
      'error',
      '-y',
      '-f',
      'rawvideo',
      '-pix_fmt',
      'rgba',
      '-s',
      `${WIDTH}x${HEIGHT}`,
      '-r',
      String(RATE),
    ],
    ...['-i', raw, '-c:v', 'ffv1', '-pix_fmt', 'bgr0', lossless],
  ]);
  rmSync(raw);
}
