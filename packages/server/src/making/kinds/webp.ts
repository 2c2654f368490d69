import { readWebpFrames, type WebpFrameChunk, writeWebp } from '@muted-pond/core/containers';
import { patienceOf } from '@muted-pond/core/files';
import { createFrame, type PixelFrame } from '@muted-pond/core/pixels';
import sharp from 'sharp';
import { framesAtTimes } from './frames-at-times.js';
import type { Maker } from './maker.js';
import { settledCopy } from './settled-copy.js';

/** 0 quick to 6 thorough; beyond 4, minutes bring a few per cent. */
const EFFORT = 4;

/**
 * libwebp encodes part after part, each beginning with a whole picture; the parts are put together here. A
 * frame that shows what the one before shows lengthens it.
 */
export const webp: Maker = {
  async start({ recipe, plan, isOpaque, threads, onProgress }) {
    const { quality, settle, way } = recipe.weigh.webp;
    const levels = way === 'lossless' ? 0 : settle / patienceOf(plan.reel);
    const delaysMs = plan.reel.map(({ delayCs }) => Math.round(delayCs * 10));
    const frames: WebpFrameChunk[] = [];
    let size = { width: 0, height: 0 };
    let place = 0;
    return {
      async add(part) {
        size = { width: part[0].width, height: part[0].height };
        onProgress('settling the pixels', place / plan.reel.length);
        const settled = settledCopy(part, levels, isOpaque, threads);
        const delay = delaysMs.slice(place, place + part.length);
        onProgress('encoding', (place + part.length / 4) / plan.reel.length);
        const bytes = await sharp(rollOf(settled, isOpaque), {
          raw: {
            width: size.width,
            height: size.height * part.length,
            channels: isOpaque ? 3 : 4,
            pageHeight: size.height,
          },
          limitInputPixels: false,
        })
          .webp({
            quality,
            effort: EFFORT,
            lossless: way === 'lossless',
            mixed: way === 'mixed',
            delay,
            loop: 0,
          })
          .toBuffer();
        const stillMs = delay.reduce((sum, ms) => sum + ms, 0);
        frames.push(...readWebpFrames(bytes, size, stillMs).frames);
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
    const input = Buffer.from(bytes.buffer, bytes.byteOffset, bytes.length);
    const picture = sharp(input, { pages: -1, limitInputPixels: false });
    const { width = 0, height = 0, pageHeight = height, delay = [] } = await picture.metadata();
    const roll = await picture.ensureAlpha().raw().toBuffer();
    const pages = Array.from({ length: roll.length / (width * pageHeight * 4) }, (_, page) =>
      createFrame(
        width,
        pageHeight,
        new Uint8Array(roll.buffer, roll.byteOffset + page * width * pageHeight * 4, width * pageHeight * 4),
      ),
    );
    yield* framesAtTimes(pages, delay, delaysCs);
  },
};

/** All frames below one another; RGB where nothing can be seen through. */
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
