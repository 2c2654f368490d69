import { describe, expect, it } from 'vitest';
import { type BuiltImage, buildGif } from '../testing/gif-builder.js';
import { readWithFfmpeg, readWithSharp } from '../testing/independent-readers.js';
import { seeded, wholeFrom } from '../testing/seeded.js';
import { composeGif, GifPlayer, maySeeThrough, readGif, unpackImage } from './index.js';

const WIDTH = 40;
const HEIGHT = 27;

function randomTable(random: () => number, bits: number): Uint8Array {
  return Uint8Array.from({ length: 3 << bits }, () => wholeFrom(random, 0, 255));
}

function randomImage(random: () => number, first: boolean, globalBits: number): BuiltImage {
  const width = first ? WIDTH : wholeFrom(random, 1, WIDTH);
  const height = first ? HEIGHT : wholeFrom(random, 1, HEIGHT);
  const localBits = random() < 0.4 ? wholeFrom(random, 1, 8) : null;
  const bits = localBits ?? globalBits;
  const run = wholeFrom(random, 1, 30);
  let index = 0;
  return {
    left: wholeFrom(random, 0, WIDTH - width),
    top: wholeFrom(random, 0, HEIGHT - height),
    width,
    height,
    indices: Uint8Array.from({ length: width * height }, (_, i) => {
      if (i % run === 0) index = wholeFrom(random, 0, (1 << bits) - 1);
      return index;
    }),
    codeBits: Math.max(2, bits),
    delayCs: wholeFrom(random, 0, 300),
    disposal: wholeFrom(random, 0, 3),
    transparentIndex: random() < 0.5 ? wholeFrom(random, 0, (1 << bits) - 1) : null,
    interlaced: random() < 0.4,
    localTable: localBits === null ? null : randomTable(random, localBits),
  };
}

describe('the reader on GIFs that are not our own', () => {
  for (let seed = 1; seed <= 24; seed++) {
    it(`agrees with libvips: disposals, interlacing, local palettes, 1 to 8 bits, odd delays (seed ${seed})`, async () => {
      const random = seeded(seed);
      const globalBits = 1 + (seed % 8);
      const images = Array.from({ length: wholeFrom(random, 2, 7) }, (_, i) =>
        randomImage(random, i === 0, globalBits),
      );
      const bytes = buildGif(WIDTH, HEIGHT, randomTable(random, globalBits), images, {
        comment: 'made by hand',
      });
      const file = readGif(bytes);
      const others = await readWithSharp(bytes);
      expect(file.images.map((image) => image.delayCs)).toEqual(images.map((image) => image.delayCs));
      const pictures = [...composeGif(file)];
      expect(pictures).toHaveLength(others.pictures.length);
      for (const [f, { rgba }] of pictures.entries())
        expectSamePicture(rgba, others.pictures[f], `frame ${f}`);
    });
  }

  for (let seed = 101; seed <= 108; seed++) {
    it(`agrees with ffmpeg where every frame is opaque and stays (seed ${seed})`, () => {
      const random = seeded(seed);
      const bits = 1 + (seed % 8);
      const images = Array.from({ length: 5 }, (_, i) => ({
        ...randomImage(random, i === 0, bits),
        disposal: 1,
        transparentIndex: null,
      }));
      const bytes = buildGif(WIDTH, HEIGHT, randomTable(random, bits), images);
      const others = readWithFfmpeg(bytes, WIDTH, HEIGHT);
      const pictures = [...composeGif(readGif(bytes))];
      for (const [f, { rgba }] of pictures.entries())
        expectSamePicture(rgba, others.pictures[f], `frame ${f}`);
    });
  }

  it('shows any frame as if all before had been shown, whatever the order and however little is kept (30 seeds)', () => {
    for (let seed = 1; seed <= 30; seed++) {
      const random = seeded(seed + 500);
      const images = Array.from({ length: 24 }, (_, i) => {
        // Some cover everything, as first frames do.
        const image = randomImage(random, i === 0 || random() < 0.15, 5);
        return random() < 0.3 ? { ...image, transparentIndex: null } : image;
      });
      const file = readGif(buildGif(WIDTH, HEIGHT, randomTable(random, 5), images));
      const inOrder = [...composeGif(file)];
      const player = new GifPlayer(file, wholeFrom(random, 0, 10) * WIDTH * HEIGHT * 4);
      for (let turn = 0; turn < 60; turn++) {
        const frame = wholeFrom(random, 0, 23);
        const { rgba } = player.frame(frame);
        expect(Buffer.compare(rgba, inOrder[frame].rgba), `seed ${seed}, frame ${frame}`).toBe(0);
      }
    }
  });

  it('knows every file with transparency as one (60 seeds)', () => {
    let told = 0;
    for (let seed = 1; seed <= 60; seed++) {
      const random = seeded(seed + 900);
      const images = Array.from({ length: 5 }, (_, i) => {
        const image = randomImage(random, i === 0, 4);
        return i === 0 || random() < 0.5 ? { ...image, transparentIndex: null } : image;
      });
      const file = readGif(buildGif(WIDTH, HEIGHT, randomTable(random, 4), images));
      const isClear = [...composeGif(file)].some(({ rgba }) => rgba.some((v, at) => at % 4 === 3 && v < 255));
      expect(maySeeThrough(file, 1e9), `seed ${seed}`).toBe(isClear);
      if (isClear) told++;
      if (isClear) expect(maySeeThrough(file, WIDTH * HEIGHT)).toBe(true);
    }
    expect(told).toBeGreaterThan(5);
    expect(told).toBeLessThan(55);
  });

  it('takes moments to say what a file holds, whatever it claims', () => {
    const random = seeded(3);
    const tiny = { ...randomImage(random, false, 2), left: 0, top: 0, width: 1, height: 1 };
    const bytes = buildGif(8000, 4000, randomTable(random, 2), new Array(200).fill(tiny));
    expect(readGif(bytes).images).toHaveLength(200);
    expect(() => readGif(bytes, { pixels: 1e8, total: 1e9 })).toThrow('200 frames of 8000 × 4000 px');
  });

  it('reads a stream that keeps its full table: 4096 codes and no clear', () => {
    const random = seeded(5);
    const pixels = Uint8Array.from({ length: 200 * 200 }, () => wholeFrom(random, 0, 255));
    const file = readGif(deferredClear(pixels, 200, 200));
    const { indices, there } = unpackImage(file, file.images[0]);
    expect(Buffer.compare(indices, pixels)).toBe(0);
    expect(there).toBeNull();
  });

  it('gives what there is of a file that breaks off anywhere', () => {
    const random = seeded(9);
    const images = [randomImage(random, true, 6), randomImage(random, false, 6)];
    const whole = buildGif(WIDTH, HEIGHT, randomTable(random, 6), images);
    for (let length = 0; length < whole.length; length += 7) {
      const cut = whole.slice(0, length);
      try {
        const file = readGif(cut);
        expect(file.images.length).toBeGreaterThan(0);
        expect([...composeGif(file)]).toHaveLength(file.images.length);
      } catch (error) {
        expect((error as Error).name).toBe('GifError');
      }
    }
    expect(readGif(whole.slice(0, whole.length - 1)).images).toHaveLength(2);
  });

  it('does not break on random damage (200 seeds)', () => {
    for (let seed = 1; seed <= 200; seed++) {
      const random = seeded(seed);
      const bytes = buildGif(WIDTH, HEIGHT, randomTable(random, 4), [randomImage(random, true, 4)]);
      for (let hit = 0; hit < 6; hit++)
        bytes[wholeFrom(random, 6, bytes.length - 1)] = wholeFrom(random, 0, 255);
      try {
        const file = readGif(bytes, { pixels: 1 << 22 });
        const [picture] = composeGif(file);
        expect(picture.rgba).toHaveLength(file.width * file.height * 4);
      } catch (error) {
        expect((error as Error).name).toBe('GifError');
      }
    }
  });

  it('says what is wrong with a file that is none', () => {
    expect(() => readGif(new Uint8Array(0))).toThrow('not a GIF');
    expect(() => readGif(new TextEncoder().encode('<svg xmlns="…"/>'))).toThrow('not a GIF');
    expect(() => readGif(buildGif(4, 4, null, []))).toThrow('no picture');
    const large = buildGif(65535, 65535, randomTable(seeded(1), 2), [
      { ...randomImage(seeded(1), false, 2), width: 1, height: 1 },
    ]);
    expect(() => readGif(large, { pixels: 1e6 })).toThrow('65535 × 65535');
  });
});

/** Equal where it can be seen: the colour under full transparency does not count. */
function expectSamePicture(ours: Uint8Array, theirs: Uint8Array, what: string): void {
  for (let at = 0; at < ours.length; at += 4) {
    const hidden = ours[at + 3] === 0 && theirs[at + 3] === 0;
    const same = [0, 1, 2, 3].every((c) => ours[at + c] === theirs[at + c]);
    if (!hidden && !same) {
      expect.fail(
        `${what}, pixel ${at / 4}: ours ${ours.slice(at, at + 4)}, theirs ${theirs.slice(at, at + 4)}`,
      );
    }
  }
}

/**
 * Every index written as its own code, 12 bits once the decoder's table is full; the table is never cleared.
 */
function deferredClear(pixels: Uint8Array, width: number, height: number): Uint8Array {
  const bits: number[] = [];
  const put = (code: number, size: number) => {
    for (let bit = 0; bit < size; bit++) bits.push((code >> bit) & 1);
  };
  let size = 9;
  let next = 258;
  put(256, size);
  pixels.forEach((index, i) => {
    put(index, size);
    if (i > 0 && next < 4096) next++;
    if (next === 1 << size && size < 12) size++;
  });
  put(257, size);
  const data = Uint8Array.from({ length: Math.ceil(bits.length / 8) }, (_, i) =>
    bits.slice(i * 8, i * 8 + 8).reduce((byte, bit, k) => byte | (bit << k), 0),
  );
  const blocks: number[] = [];
  for (let at = 0; at < data.length; at += 255) {
    const block = data.slice(at, at + 255);
    blocks.push(block.length, ...block);
  }
  const table = Array.from({ length: 768 }, (_, i) => i % 256);
  return Uint8Array.from([
    ...[...'GIF89a'].map((letter) => letter.charCodeAt(0)),
    ...[width & 255, width >> 8, height & 255, height >> 8, 0x87, 0, 0],
    ...table,
    ...[0x2c, 0, 0, 0, 0, width & 255, width >> 8, height & 255, height >> 8, 0, 8],
    ...blocks,
    ...[0, 0x3b],
  ]);
}
