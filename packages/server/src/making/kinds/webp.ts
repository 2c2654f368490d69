import {
  createWebpCanvas,
  readWebp,
  readWebpFrames,
  stillWebp,
  type WebpFrameChunk,
  webpFramePlace,
  writeWebp,
} from '@muted-pond/core/containers';
import { patienceOf } from '@muted-pond/core/files';
import { createFrame, type PixelFrame, type Size } from '@muted-pond/core/pixels';
import type { Recipe } from '@muted-pond/core/recipe';
import { pictureLibrary } from '../../media/index.js';
import { framesAtTimes } from './frames-at-times.js';
import type { Maker } from './maker.js';
import { settledCopy } from './settled-copy.js';

/** 0 quick to 6 thorough; beyond 4, minutes bring a few per cent. */
const EFFORT = 4;

/** Runs of frames that are encoded side by side; fixed, so that every machine makes the same file. */
const RUNS = 2;
/** Shorter runs are not worth the picture that each has to begin with. */
const SHORTEST_RUN = 8;

/**
 * libwebp encodes runs of frames side by side, and what it makes is put together here. A run begins with the
 * frame before it, so that its own first one is written as a change; the picture of that frame, which stands
 * in the run before already, is left out again.
 */
export const webp: Maker = {
  async start({ recipe, plan, isOpaque, threads, onProgress }) {
    const { settle, way } = recipe.weigh.webp;
    const levels = way === 'lossless' ? 0 : settle / patienceOf(plan.reel);
    const delaysMs = plan.reel.map(({ delayCs }) => Math.round(delayCs * 10));
    const frames: WebpFrameChunk[] = [];
    let size = { width: 0, height: 0 };
    let place = 0;
    let before: PixelFrame | null = null;
    return {
      async add(part) {
        size = { width: part[0].width, height: part[0].height };
        onProgress('settling the pixels', place / plan.reel.length);
        const settled = settledCopy(part, levels, isOpaque, threads);
        onProgress('encoding', (place + part.length / 4) / plan.reel.length);
        const count = settled.length >= SHORTEST_RUN * RUNS ? RUNS : 1;
        const bounds = Array.from({ length: count + 1 }, (_, i) => Math.round((i * settled.length) / count));
        const runs = await Promise.all(
          bounds.slice(1).map((to, run) => {
            const from = bounds[run];
            const lead = run === 0 ? before : settled[from - 1];
            const delays = delaysMs.slice(place + from, place + to);
            return encodeRun(lead, settled.slice(from, to), delays, recipe, isOpaque);
          }),
        );
        for (const run of runs) appendRun(frames, run);
        before = settled[settled.length - 1];
        place += part.length;
        onProgress('encoding', place / plan.reel.length);
      },
      async finish() {
        const bytes = writeWebp({ ...size, frames }, recipe.plays);
        return { bytes, frameBytes: bytesByPlace(frames, delaysMs), palette: null };
      },
    };
  },
  async *read(bytes, delaysCs) {
    const { width, height, frames } = readWebp(bytes);
    const delays = frames.map(({ durationMs }) => durationMs);
    yield* framesAtTimes(picturesOf(frames, { width, height }), delays, delaysCs);
  },
};

/** Pictures that are decoded before they are asked for. */
const DECODED_AHEAD = 4;

/** What is seen at each frame, one after the other: of a long reel, not all are held. */
async function* picturesOf(
  frames: readonly WebpFrameChunk[],
  { width, height }: Size,
): AsyncGenerator<PixelFrame> {
  const sharp = await pictureLibrary();
  const canvas = createWebpCanvas(width, height);
  const decode = async (frame: WebpFrameChunk) => {
    const decoded = await sharp(stillWebp(frame), { limitInputPixels: false }).ensureAlpha().raw().toBuffer();
    return new Uint8Array(decoded.buffer, decoded.byteOffset, decoded.length);
  };
  const ahead: Promise<Uint8Array>[] = [];
  for (const [place, frame] of frames.entries()) {
    while (ahead.length < DECODED_AHEAD && place + ahead.length < frames.length) {
      ahead.push(decode(frames[place + ahead.length]));
    }
    const rgba = await (ahead.shift() as Promise<Uint8Array>);
    yield createFrame(width, height, canvas.lay(webpFramePlace(frame), rgba).slice());
  }
}

/** A run as it was encoded. */
interface EncodedRun {
  readonly frames: readonly WebpFrameChunk[];
  /** How much longer the frame before the run is shown: the run’s first frames look like it. */
  readonly longerMs: number;
}

/** How long the frame before a run is said to be shown, ms; very short ones would be drawn out. */
const LEAD_MS = 100;

/** @param lead the frame before the run; null for none. */
async function encodeRun(
  lead: PixelFrame | null,
  frames: readonly PixelFrame[],
  delaysMs: readonly number[],
  recipe: Recipe,
  isOpaque: boolean,
): Promise<EncodedRun> {
  const { quality, way } = recipe.weigh.webp;
  const all = lead ? [lead, ...frames] : frames;
  const delay = lead ? [LEAD_MS, ...delaysMs] : [...delaysMs];
  const { width, height } = frames[0];
  const sharp = await pictureLibrary();
  const bytes = await sharp(rollOf(all, isOpaque), {
    raw: { width, height: height * all.length, channels: isOpaque ? 3 : 4, pageHeight: height },
    limitInputPixels: false,
  })
    .webp({
      ...{ quality: Math.round(quality), effort: EFFORT, delay, loop: 0 },
      ...{ lossless: way === 'lossless', mixed: way === 'mixed' },
    })
    .toBuffer();
  const stillMs = delay.reduce((sum, ms) => sum + ms, 0);
  const encoded = readWebpFrames(bytes, { width, height }, stillMs).frames;
  if (!lead) return { frames: encoded, longerMs: 0 };
  const [first, ...rest] = encoded;
  // A disposal after the left-out picture cannot be left out with it.
  if (first.isDisposed) return encodeRun(null, frames, delaysMs, recipe, isOpaque);
  return { frames: rest, longerMs: first.durationMs - LEAD_MS };
}

function appendRun(frames: WebpFrameChunk[], { frames: run, longerMs }: EncodedRun): void {
  const last = frames.at(-1);
  if (last) frames[frames.length - 1] = { ...last, durationMs: last.durationMs + longerMs };
  frames.push(...run);
}

/** All frames below one another; RGB where nothing is transparent. */
function rollOf(frames: readonly PixelFrame[], isOpaque: boolean): Buffer {
  if (!isOpaque) return Buffer.concat(frames.map(({ rgba }) => rgba));
  const pixels = frames[0].width * frames[0].height;
  const roll = Buffer.allocUnsafe(frames.length * pixels * 3);
  let to = 0;
  for (const { rgba } of frames) {
    for (let from = 0; from < rgba.length; from += 4, to += 3) {
      roll[to] = rgba[from];
      roll[to + 1] = rgba[from + 1];
      roll[to + 2] = rgba[from + 2];
    }
  }
  return roll;
}

/** What each frame of the reel weighs: 0 where it lengthens the one before. */
function bytesByPlace(frames: readonly WebpFrameChunk[], delaysMs: readonly number[]): number[] {
  let next = 0;
  let untilMs = 0;
  let shownMs = 0;
  return delaysMs.map((delay) => {
    const begins = shownMs >= untilMs && next < frames.length;
    const bytes = begins ? frames[next].payload.length + 8 : 0;
    if (begins) untilMs += frames[next++].durationMs;
    shownMs += delay;
    return bytes;
  });
}
