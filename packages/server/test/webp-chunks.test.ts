import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import sharp from 'sharp';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { seeded, wholeFrom } from '../../core/src/testing/seeded.js';
import { decodeFrames, probeHere } from '../src/media/index.js';
import { scanWebp } from '../src/media/webp-chunks.js';
import { type ClipFolder, clipFolder, numberedFrames, readNumber } from './clips.js';

let clips: ClipFolder;
beforeAll(() => {
  clips = clipFolder();
});
afterAll(() => clips.remove());

it('any frame of an animated WebP is the one that libvips shows there, wherever reading starts (seed 8)', async () => {
  // Key frames here and there, so that there are places to start again.
  const path = clips.make('a.webp', ...numberedFrames(60, 20), ...['-c:v', 'libwebp_anim', '-lossless', '1']);
  const facts = await probeHere(path, 'a.webp');
  const { frames } = await scanWebp(path);
  expect(frames).toHaveLength(60);
  const whole = await sharp(path, { pages: -1 }).ensureAlpha().raw().toBuffer();
  const bytes = whole.length / 60;
  const random = seeded(8);
  for (let turn = 0; turn < 30; turn++) {
    const first = wholeFrom(random, 0, 59);
    const wanted = [first, first + 1, first + 5].filter((frame) => frame < 60);
    const request = { path, name: 'a.webp', facts, frames: wanted, size: facts, format: 'rgba' as const };
    for await (const { frame, data } of decodeFrames(request)) {
      expect(readNumber(data, 4, facts.width), `frame ${frame}`).toBe(frame);
      expect(Buffer.compare(data, whole.subarray(frame * bytes, (frame + 1) * bytes)), `frame ${frame}`).toBe(
        0,
      );
    }
  }
});

it('frames that cover everything are places to start from, others are not', async () => {
  const frame = (red: number) =>
    sharp({ create: { width: 20, height: 10, channels: 3, background: { r: red, g: 9, b: 90 } } })
      .png()
      .toBuffer();
  const made = await sharp(await Promise.all([10, 120, 240].map(frame)), { join: { animated: true } })
    .webp({ lossless: true, loop: 0, delay: [100, 100, 100] })
    .toBuffer();
  const path = join(clips.path, 'covering.webp');
  writeFileSync(path, made);
  const { frames, breaksOff, headEnd } = await scanWebp(path);
  expect([frames.length, breaksOff, headEnd > 12]).toEqual([3, false, true]);
  writeFileSync(path, made.subarray(0, made.length - 3));
  const cut = await scanWebp(path);
  expect([cut.frames.length, cut.breaksOff]).toEqual([2, true]);
});
