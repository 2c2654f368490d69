import { deflateSync } from 'node:zlib';
import sharp from 'sharp';
import { describe, expect, it } from 'vitest';
import { seeded, wholeFrom } from '../testing/seeded.js';
import {
  createWebpCanvas,
  filterRows,
  PNG_FILTERS,
  readWebp,
  readWebpFrames,
  retimeIsoFile,
  stillWebp,
  type WebpFrameChunk,
  webpFramePlace,
  withMatroskaDuration,
  writeApng,
  writeWebp,
} from './index.js';

const SIZE = { width: 24, height: 16 };

/** Pictures that share a ground and differ in places. */
function pictures(seed: number, count: number): Uint8Array[] {
  const random = seeded(seed);
  let rgba = Uint8Array.from({ length: SIZE.width * SIZE.height * 4 }, (_, i) =>
    i % 4 === 3 ? 255 : random() * 256,
  );
  return Array.from({ length: count }, () => {
    rgba = rgba.slice();
    for (let change = 0; change < 30; change++)
      rgba[4 * Math.floor(random() * 384) + (change % 3)] = random() * 256;
    return rgba;
  });
}

const rawOf = (all: readonly Uint8Array[]) =>
  sharp(Buffer.concat(all), {
    raw: { width: SIZE.width, height: SIZE.height * all.length, channels: 4, pageHeight: SIZE.height },
  });

/** The largest difference of two RGBA8 pictures as they look: colours weighed by alpha, and alpha itself. */
function farthest(one: Uint8Array, other: Uint8Array): number {
  let most = 0;
  for (let i = 0; i < one.length; i++) {
    const at = i | 3;
    const weighed = (rgba: Uint8Array) => (i === at ? rgba[at] : (rgba[i] * rgba[at]) / 255);
    most = Math.max(most, Math.abs(weighed(one) - weighed(other)));
  }
  return most;
}

describe('animated WebP', () => {
  it.each([1, 2, 3])('is read and written again with other delays and plays (seed %i)', async (seed) => {
    const all = pictures(seed, 5);
    const made = await rawOf(all)
      .webp({ lossless: true, delay: [50, 60, 70, 80, 90], loop: 0 })
      .toBuffer();
    const { frames } = readWebpFrames(made, SIZE, 0);
    expect(frames.map(({ durationMs }) => durationMs)).toEqual([50, 60, 70, 80, 90]);
    const slower = frames.map((frame) => ({ ...frame, durationMs: frame.durationMs * 3 }));
    const bytes = writeWebp({ ...SIZE, frames: slower }, 7);
    const read = sharp(Buffer.from(bytes), { pages: -1 });
    const { delay, loop } = await read.metadata();
    expect([delay, loop]).toEqual([[150, 180, 210, 240, 270], 7]);
    expect(Buffer.compare(await read.ensureAlpha().raw().toBuffer(), Buffer.concat(all))).toBe(0);
  });

  it.each([1, 2, 3, 4, 5, 6])('is laid frame on frame as another reader does it (seed %i)', async (seed) => {
    const random = seeded(seed);
    const canvas = { width: 48, height: 36 };
    const frames: WebpFrameChunk[] = [];
    for (let i = 0; i < 9; i++) {
      // Frames lie at even places.
      const x = 2 * wholeFrom(random, 0, 10);
      const y = 2 * wholeFrom(random, 0, 8);
      const size = { width: wholeFrom(random, 1, 48 - x), height: wholeFrom(random, 1, 36 - y) };
      const isSolid = random() < 0.3;
      const rgba = Uint8Array.from({ length: size.width * size.height * 4 }, (_, b) =>
        b % 4 === 3 && isSolid ? 255 : b % 4 === 3 && random() < 0.3 ? 0 : wholeFrom(random, 0, 255),
      );
      const way = random() < 0.5 ? { lossless: true } : { quality: 80 };
      const raw = { ...size, channels: 4 as const };
      const still = await sharp(rgba, { raw }).webp(way).toBuffer();
      const [frame] = readWebpFrames(still, size, 100).frames;
      const payload = new Uint8Array(frame.payload);
      payload[0] = x / 2;
      payload[3] = y / 2;
      const isDisposed = random() < 0.3;
      // Flags: disposed, not blended.
      payload[15] = (isDisposed ? 1 : 0) | (random() < 0.4 ? 2 : 0);
      frames.push({ payload, durationMs: 100, isDisposed });
    }
    const bytes = writeWebp({ ...canvas, frames }, 0);
    const roll = await sharp(Buffer.from(bytes), { pages: -1 }).ensureAlpha().raw().toBuffer();
    const read = readWebp(bytes);
    expect([read.width, read.height, read.frames.length]).toEqual([48, 36, 9]);
    const laid = createWebpCanvas(canvas.width, canvas.height);
    for (const [place, frame] of read.frames.entries()) {
      const rgba = await sharp(stillWebp(frame)).ensureAlpha().raw().toBuffer();
      const seen = laid.lay(webpFramePlace(frame), rgba);
      const at = place * seen.length;
      // Readers round what is mixed in ways of their own: as it looks, they differ by a level or two.
      expect(farthest(seen, roll.subarray(at, at + seen.length)), `frame ${place}`).toBeLessThanOrEqual(2);
    }
  });

  it('takes a picture without motion as one frame', async () => {
    const [picture] = pictures(9, 1);
    const still = await rawOf([picture]).webp({ lossless: true }).toBuffer();
    const { frames } = readWebpFrames(still, SIZE, 400);
    expect(frames).toHaveLength(1);
    const { delay, pages } = await sharp(
      Buffer.from(writeWebp({ ...SIZE, frames: [...frames, ...frames] }, 0)),
      {
        pages: -1,
      },
    ).metadata();
    expect([pages, delay]).toEqual([2, [400, 400]]);
  });

  it('refuses what is none, what breaks off, and a frame that lasts too long', async () => {
    const made = await rawOf(pictures(4, 2))
      .webp({ delay: [100, 100] })
      .toBuffer();
    expect(() => readWebpFrames(Buffer.from('GIF89a, and more of it'), SIZE, 0)).toThrow('no WebP');
    expect(() => readWebpFrames(made.subarray(0, made.length - 20), SIZE, 0)).toThrow('breaks off');
    const [frame] = readWebpFrames(made, SIZE, 0).frames;
    const slow = { ...SIZE, frames: [{ ...frame, durationMs: 2 ** 24 }] };
    expect(() => writeWebp(slow, 0)).toThrow('16777215');
  });
});

describe('PNG rows', () => {
  it.each(PNG_FILTERS)('filtered by “%s” are read back by libvips to the bit', async (filter) => {
    for (const seed of [1, 7]) {
      const [rgba] = pictures(seed, 1);
      const packed = deflateSync(filterRows(rgba, SIZE.width * 4, 4, filter));
      const frame = { left: 0, top: 0, ...SIZE, delayMs: 100, isLaidOver: false, packed };
      const bytes = writeApng(SIZE, { type: 'rgba' }, [frame], 0);
      const read = await sharp(Buffer.from(bytes)).ensureAlpha().raw().toBuffer();
      expect(Buffer.compare(read, Buffer.from(rgba))).toBe(0);
    }
  });

  it('hold delays of up to 655 seconds, and say so beyond', () => {
    const frame = { left: 0, top: 0, ...SIZE, isLaidOver: false, packed: new Uint8Array() };
    const delays = (delayMs: number) => writeApng(SIZE, { type: 'rgba' }, [{ ...frame, delayMs }], 0);
    expect(delays(65_535).length).toBe(delays(655_000).length);
    expect(() => delays(700_000)).toThrow('holds 655 s');
  });
});

describe('files of other makers', () => {
  it('that are none are refused, and not changed', () => {
    expect(() => retimeIsoFile(Buffer.from('not a movie at all'), { seconds: null, plays: null })).toThrow(
      RangeError,
    );
    expect(() => withMatroskaDuration(new Uint8Array(64), 1000)).toThrow('how long');
  });

  it('keep everything of a Matroska file but its length', () => {
    const info = [0x15, 0x49, 0xa9, 0x66, 0x8b, 0x44, 0x89, 0x88, 0, 0, 0, 0, 0, 0, 0, 0];
    const bytes = Uint8Array.from([1, 2, 3, ...info, 9, 9]);
    const out = withMatroskaDuration(bytes, 1234.5);
    expect(new DataView(out.buffer).getFloat64(11)).toBe(1234.5);
    expect([out.subarray(0, 11), out.subarray(19)]).toEqual([bytes.subarray(0, 11), bytes.subarray(19)]);
    expect(bytes[11]).toBe(0);
  });
});
