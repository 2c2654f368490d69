import { join } from 'node:path';
import sharp, { type Sharp } from 'sharp';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { seeded, wholeFrom } from '../../core/src/testing/seeded.js';
import { decodeFrames, frameTimes, type MediaFacts, probeHere } from '../src/media/index.js';
import {
  type ClipFolder,
  clipFolder,
  NUMBERED_HEIGHT,
  NUMBERED_WIDTH,
  numberedFrames,
  readNumber,
} from './clips.js';

const FRAMES = 60;
const RATE = 20;

let clips: ClipFolder;

beforeAll(() => {
  clips = clipFolder();
});
afterAll(() => clips.remove());

async function decodeAt(
  path: string,
  facts: MediaFacts,
  frames: readonly number[],
): Promise<Map<number, Buffer>> {
  const seen = new Map<number, Buffer>();
  const size = { width: facts.width, height: facts.height };
  for await (const { frame, data } of decodeFrames({
    path,
    name: 'it',
    facts,
    frames,
    size,
    format: 'rgba',
  })) {
    seen.set(frame, data);
  }
  return seen;
}

/** Every kind of moving footage: how it is written, and what is known of it afterwards. */
const KINDS: readonly (readonly [name: string, args: readonly string[], codec: string])[] = [
  ['mp4.mp4', ['-c:v', 'libx264', '-bf', '3', '-g', '25', '-crf', '12'], 'h264'],
  [
    'hevc.mov',
    ['-c:v', 'libx265', '-x265-params', 'log-level=error:keyint=25', '-tag:v', 'hvc1', '-crf', '12'],
    'hevc',
  ],
  ['vp8.webm', ['-c:v', 'libvpx', '-b:v', '2M', '-g', '25'], 'vp8'],
  ['vp9.webm', ['-c:v', 'libvpx-vp9', '-b:v', '2M', '-g', '25', '-cpu-used', '8'], 'vp9'],
  ['av1.mkv', ['-c:v', 'libaom-av1', '-cpu-used', '8', '-crf', '20', '-b:v', '0', '-g', '25'], 'av1'],
  ['mpeg2.mpg', ['-c:v', 'mpeg2video', '-r', '25', '-bf', '2', '-g', '12', '-q:v', '2'], 'mpeg2video'],
  ['mpeg2.ts', ['-c:v', 'mpeg2video', '-r', '25', '-bf', '2', '-g', '12', '-q:v', '2'], 'mpeg2video'],
  ['h264.ts', ['-c:v', 'libx264', '-bf', '3', '-g', '25', '-crf', '12'], 'h264'],
  ['mpeg1.mpg', ['-c:v', 'mpeg1video', '-r', '25', '-g', '12', '-q:v', '2'], 'mpeg1video'],
  ['mpeg4.avi', ['-c:v', 'mpeg4', '-bf', '2', '-g', '25', '-q:v', '2'], 'mpeg4'],
  ['h264.avi', ['-c:v', 'libx264', '-bf', '3', '-g', '25', '-crf', '12'], 'h264'],
  ['bare.h264', ['-c:v', 'libx264', '-bf', '3', '-g', '25', '-crf', '12'], 'h264'],
  ['prores.mov', ['-c:v', 'prores_ks', '-profile:v', '2'], 'prores'],
  ['mjpeg.mov', ['-c:v', 'mjpeg', '-q:v', '2'], 'mjpeg'],
  ['lossless.mkv', ['-c:v', 'ffv1'], 'ffv1'],
  ['windows.wmv', ['-c:v', 'wmv2', '-b:v', '2M', '-g', '25'], 'wmv2'],
  ['flash.flv', ['-c:v', 'flv1', '-q:v', '2', '-g', '25'], 'flv1'],
  [
    'interlaced.mpg',
    ['-c:v', 'mpeg2video', '-r', '25', '-flags', '+ildct+ilme', '-top', '1', '-q:v', '2'],
    'mpeg2video',
  ],
  [
    'interlaced.mp4',
    ['-c:v', 'libx264', '-flags', '+ildct+ilme', '-x264-params', 'tff=1', '-g', '25', '-crf', '10'],
    'h264',
  ],
  [
    'ten bit.mkv',
    ['-c:v', 'libx265', '-pix_fmt', 'yuv420p10le', '-x265-params', 'log-level=error', '-crf', '12'],
    'hevc',
  ],
  ['animation.png', ['-f', 'apng', '-plays', '3'], 'apng'],
  ['animation.gif', [], 'gif'],
  ['animation.webp', ['-c:v', 'libwebp_anim', '-lossless', '1', '-loop', '0'], 'webp'],
];

describe('every kind of footage', () => {
  it.each(KINDS)('%s: frame n is frame n, reached in any order (seed 6)', async (name, args, codec) => {
    const rate = args.includes('-r') ? 25 : RATE;
    const path = clips.make(name, ...numberedFrames(FRAMES, rate), ...args);
    const facts = await probeHere(path, name);
    expect(facts.codec).toBe(codec);
    expect(facts.ticks).toHaveLength(FRAMES);
    expect([facts.width, facts.height]).toEqual([NUMBERED_WIDTH, NUMBERED_HEIGHT]);
    const times = frameTimes(facts);
    expect(times.duration).toBeCloseTo(FRAMES / rate, 1);
    for (const frame of [1, 17, 59]) expect(times.starts[frame]).toBeCloseTo(frame / rate, 2);
    const random = seeded(6);
    const whole = await decodeAt(
      path,
      facts,
      Array.from({ length: FRAMES }, (_, i) => i),
    );
    for (let round = 0; round < 6; round++) {
      const frames = [...new Set([0, 1, 2].map(() => wholeFrom(random, 0, FRAMES - 1)))].sort(
        (a, b) => a - b,
      );
      const seen = await decodeAt(path, facts, frames);
      expect([...seen.keys()]).toEqual(frames);
      for (const [frame, data] of seen) {
        expect(readNumber(data, 4, NUMBERED_WIDTH), `frame ${frame}`).toBe(frame);
        // The same pixels, whether reached by seeking or by going through the file.
        expect(Buffer.compare(data, whole.get(frame) as Buffer), `pixels of frame ${frame}`).toBe(0);
      }
    }
  });

  it('is known by its content, whatever its name says', async () => {
    const gif = clips.make('really.gif', ...numberedFrames(4, 10));
    const webm = clips.make('really.webm', ...numberedFrames(10, 10), '-c:v', 'libvpx', '-b:v', '1M');
    for (const [path, name] of [
      [gif, 'called.mp4'],
      [webm, 'called.jpg'],
    ]) {
      const facts = await probeHere(path, name);
      expect(facts.kind).toBe(path === gif ? 'animation' : 'video');
    }
  });
});

describe('an animation', () => {
  const red = (width: number, height: number, alpha: number) =>
    sharp({ create: { width, height, channels: 4, background: { r: 220, g: 30, b: 30, alpha } } });

  it.each(['gif', 'webp'] as const)(
    'as %s keeps its delays, how often it plays, and its alpha',
    async (format) => {
      const delay = [70, 130, 40, 2000];
      const pages = await Promise.all([1, 0, 1, 0].map((alpha) => red(24, 16, alpha).png().toBuffer()));
      const made = sharp(pages, { join: { animated: true } });
      const bytes = await (format === 'gif'
        ? made.gif({ delay, loop: 3 })
        : made.webp({ delay, loop: 3, lossless: true })
      ).toBuffer();
      const path = join(clips.path, `blinks.${format}`);
      await sharp(bytes, { animated: true }).toFile(path);
      const facts = await probeHere(path, `blinks.${format}`);
      expect(facts).toMatchObject({
        kind: 'animation',
        hasAlpha: true,
        width: 24,
        height: 16,
        mendedDelays: 0,
      });
      expect(facts.ticks).toEqual([0, 70, 200, 240]);
      expect(facts.durationTicks).toBe(2240);
      const seen = await decodeAt(path, facts, [0, 1, 2, 3]);
      expect([...seen.values()].map((data) => data[3])).toEqual([255, 0, 255, 0]);
      for (const [c, level] of [220, 30, 30].entries()) {
        expect(Math.abs((seen.get(2) as Buffer)[c] - level)).toBeLessThanOrEqual(2);
      }
    },
  );

  it('as APNG says how often it plays, and keeps uneven delays', async () => {
    const path = clips.make('apng.png', ...numberedFrames(6, 10), '-f', 'apng', '-plays', '4');
    const facts = await probeHere(path, 'apng.png');
    expect(facts).toMatchObject({ kind: 'animation', plays: 4 });
    expect(frameTimes(facts).duration).toBeCloseTo(0.6, 3);
  });

  it('whose delays are too short for viewers plays as viewers play it', async () => {
    const path = clips.make('fast.gif', ...numberedFrames(6, 100), '-r', '100');
    const facts = await probeHere(path, 'fast.gif');
    expect(facts).toMatchObject({ mendedDelays: 6, durationTicks: 600 });
  });
});

describe('a picture', () => {
  /** Left half red, right half see-through blue. */
  const two = () =>
    sharp(
      Buffer.from(
        Array.from({ length: 40 * 20 }, (_, p) =>
          p % 40 < 20 ? [200, 40, 40, 255] : [30, 60, 200, 64],
        ).flat(),
      ),
      { raw: { width: 40, height: 20, channels: 4 } },
    );

  it.each([
    ['png', (s: Sharp) => s.png(), true],
    ['webp', (s: Sharp) => s.webp({ lossless: true }), true],
    ['tiff', (s: Sharp) => s.tiff({ compression: 'lzw' }), true],
    ['avif', (s: Sharp) => s.avif({ quality: 90, chromaSubsampling: '4:4:4' }), true],
    [
      'jpg',
      (s: Sharp) => s.flatten({ background: '#000' }).jpeg({ quality: 96, chromaSubsampling: '4:4:4' }),
      false,
    ],
  ] as const)('as %s keeps its colours, and its alpha where it has one', async (ending, write, hasAlpha) => {
    const path = join(clips.path, `two.${ending}`);
    await write(two()).toFile(path);
    const facts = await probeHere(path, 'two');
    expect(facts).toMatchObject({ kind: 'picture', width: 40, height: 20, hasAlpha });
    const data = (await decodeAt(path, facts, [0])).get(0) as Buffer;
    const near = (x: number, wanted: readonly number[]) => {
      const at = (10 * 40 + x) * 4;
      for (const [c, level] of wanted.entries()) {
        expect(Math.abs(data[at + c] - level), `x ${x}, channel ${c}`).toBeLessThanOrEqual(8);
      }
    };
    near(5, [200, 40, 40, 255]);
    if (hasAlpha) near(35, [30, 60, 200, 64]);
  });

  it.each([1, 3, 6, 8, 5])('with EXIF orientation %i stands upright', async (orientation) => {
    const path = join(clips.path, `turned-${orientation}.jpg`);
    await two()
      .flatten({ background: '#000' })
      .withMetadata({ orientation })
      .jpeg({ quality: 96 })
      .toFile(path);
    const facts = await probeHere(path, 'turned.jpg');
    const lies = orientation >= 5;
    expect([facts.width, facts.height]).toEqual(lies ? [20, 40] : [40, 20]);
    const ours = (await decodeAt(path, facts, [0])).get(0) as Buffer;
    // ImageMagick-like truth: the red half is left, right, top, bottom, or top again when also mirrored.
    const red = { 1: [5, 10], 3: [35, 10], 6: [10, 5], 8: [10, 35], 5: [10, 5] }[orientation] as [
      number,
      number,
    ];
    expect(ours[(red[1] * facts.width + red[0]) * 4]).toBeGreaterThan(150);
  });

  it('of 16 bits and of its own colour profile comes as 8-bit sRGB', async () => {
    const path = join(clips.path, 'deep.png');
    await two().toColourspace('rgb16').png().toFile(path);
    const facts = await probeHere(path, 'deep.png');
    expect(facts).toMatchObject({ bits: 16 });
    expect((await decodeAt(path, facts, [0])).get(0)).toHaveLength(40 * 20 * 4);
    const wide = join(clips.path, 'p3.png');
    await two().removeAlpha().withIccProfile('p3').png().toFile(wide);
    const p3 = await probeHere(wide, 'p3.png');
    expect(p3).toMatchObject({ hasProfile: true });
    const data = (await decodeAt(wide, p3, [0])).get(0) as Buffer;
    for (const [c, level] of [200, 40, 40].entries())
      expect(Math.abs(data[(10 * 40 + 5) * 4 + c] - level)).toBeLessThanOrEqual(4);
  });

  it('of odd sizes, down to one pixel', async () => {
    for (const [width, height] of [
      [1, 1],
      [641, 361],
      [1, 500],
    ]) {
      const path = join(clips.path, `odd-${width}.png`);
      await sharp({ create: { width, height, channels: 3, background: '#4080c0' } })
        .png()
        .toFile(path);
      const facts = await probeHere(path, 'odd.png');
      expect((await decodeAt(path, facts, [0])).get(0)).toHaveLength(width * height * 4);
    }
  });
});

describe('alpha of a video', () => {
  const half = "format=rgba,geq=r=200:g=80:b=40:a='if(lt(X,32),255,0)'";
  it.each([
    ['vp9.webm', ['-pix_fmt', 'yuva420p', '-c:v', 'libvpx-vp9', '-b:v', '1M']],
    ['vp8.webm', ['-pix_fmt', 'yuva420p', '-c:v', 'libvpx', '-b:v', '1M', '-auto-alt-ref', '0']],
    ['prores.mov', ['-pix_fmt', 'yuva444p10le', '-c:v', 'prores_ks', '-profile:v', '4']],
    ['animation.mov', ['-pix_fmt', 'argb', '-c:v', 'qtrle']],
    ['lossless.mkv', ['-pix_fmt', 'bgra', '-c:v', 'ffv1']],
  ])('is kept: %s', async (name, args) => {
    const path = clips.make(
      `alpha-${name}`,
      '-f',
      'lavfi',
      '-i',
      'nullsrc=s=64x64:r=10:d=0.5',
      '-vf',
      half,
      ...args,
    );
    const facts = await probeHere(path, name);
    expect(facts.hasAlpha).toBe(true);
    const data = (await decodeAt(path, facts, [2])).get(2) as Buffer;
    const at = (x: number) => [...data.subarray((32 * 64 + x) * 4, (32 * 64 + x) * 4 + 4)];
    expect(at(10)[3]).toBeGreaterThan(245);
    expect(at(54)[3]).toBeLessThan(10);
    for (const [c, level] of [200, 80, 40].entries())
      expect(Math.abs(at(10)[c] - level)).toBeLessThanOrEqual(6);
    for await (const { data: view } of decodeFrames({
      path,
      name,
      facts,
      frames: [1],
      size: { width: 32, height: 32 },
      format: 'view',
    })) {
      const { data: pixels, info } = await sharp(view)
        .ensureAlpha()
        .raw()
        .toBuffer({ resolveWithObject: true });
      expect([info.width, pixels[(16 * 32 + 5) * 4 + 3], pixels[(16 * 32 + 28) * 4 + 3]]).toEqual([
        32, 255, 0,
      ]);
    }
  });
});

describe('high dynamic range and wide colours', () => {
  /** SMPTE ST 2084:2014, 5.2: luminance in cd/m² to the non-linear signal. */
  const pq = (nits: number) => {
    const y = (nits / 10000) ** (2610 / 16384);
    return ((3424 / 4096 + (2413 / 128) * y) / (1 + (2392 / 128) * y)) ** (2523 / 32);
  };
  /** ITU-R BT.2100: scene light to HLG signal; the system gamma of 1.2 for a 1000 cd/m² display. */
  const hlg = (nits: number) => {
    const scene = (nits / 1000) ** (1 / 1.2);
    const [a, b, c] = [0.17883277, 0.28466892, 0.55991073];
    return scene <= 1 / 12 ? Math.sqrt(3 * scene) : a * Math.log(12 * scene - b) + c;
  };
  const srgb = (linear: number) =>
    255 * (linear <= 0.0031308 ? 12.92 * linear : 1.055 * linear ** (1 / 2.4) - 0.055);

  async function grey(signal: number, transfer: string): Promise<number> {
    const code = Math.round(64 + 876 * signal);
    const path = clips.make(
      `grey-${transfer}-${code}.mkv`,
      ...['-f', 'lavfi', '-i', `color=s=64x64:r=10:d=0.3,format=yuv420p10le,geq=lum=${code}:cb=512:cr=512`],
      ...[
        '-c:v',
        'ffv1',
        '-colorspace',
        'bt2020nc',
        '-color_primaries',
        'bt2020',
        '-color_trc',
        transfer,
        '-color_range',
        'tv',
      ],
    );
    const facts = await probeHere(path, 'grey');
    expect(facts).toMatchObject({ wideGamut: true, transfer: transfer === 'smpte2084' ? 'pq' : 'hlg' });
    const data = (await decodeAt(path, facts, [1])).get(1) as Buffer;
    expect(Math.abs(data[0] - data[1])).toBeLessThanOrEqual(1);
    return data[1];
  }

  it.each([
    ['smpte2084', pq],
    ['arib-std-b67', hlg],
  ] as const)(
    '%s: light below the reference white keeps its brightness, highlights bend and never clip early',
    async (transfer, signal) => {
      for (const nits of [5, 26, 60, 110]) {
        expect(
          Math.abs((await grey(signal(nits), transfer)) - srgb(nits / 203)),
          `${nits} cd/m²`,
        ).toBeLessThanOrEqual(4);
      }
      const [white, bright, brightest] = [
        await grey(signal(203), transfer),
        await grey(signal(500), transfer),
        await grey(signal(990), transfer),
      ];
      expect(white).toBeGreaterThan(205);
      expect(bright).toBeGreaterThan(white + 5);
      expect(brightest).toBeGreaterThan(bright + 3);
      expect(brightest).toBeGreaterThanOrEqual(252);
    },
  );

  it('a BT.709 colour stored in BT.2020 comes back as itself', async () => {
    // ITU-R BT.2087, by display light (BT.1886): BT.709 to BT.2020.
    const linear = [200, 80, 40].map((level) => (level / 255) ** 2.4);
    const rows = [
      [0.6274, 0.3293, 0.0433],
      [0.0691, 0.9195, 0.0114],
      [0.0164, 0.088, 0.8956],
    ];
    const [r, g, b] = rows
      .map((row) => row.reduce((sum, weight, i) => sum + weight * linear[i], 0))
      .map((light) => light ** (1 / 2.4));
    const y = 0.2627 * r + 0.678 * g + 0.0593 * b;
    const codes = [64 + 876 * y, 512 + (896 * (b - y)) / 1.8814, 512 + (896 * (r - y)) / 1.4746].map(
      Math.round,
    );
    const path = clips.make(
      'wide.mkv',
      ...[
        '-f',
        'lavfi',
        '-i',
        `color=s=64x64:r=10:d=0.3,format=yuv444p10le,geq=lum=${codes[0]}:cb=${codes[1]}:cr=${codes[2]}`,
      ],
      ...[
        '-c:v',
        'ffv1',
        '-colorspace',
        'bt2020nc',
        '-color_primaries',
        'bt2020',
        '-color_trc',
        'bt2020-10',
        '-color_range',
        'tv',
      ],
    );
    const data = (await decodeAt(path, await probeHere(path, 'wide'), [1])).get(1) as Buffer;
    for (const [c, level] of [200, 80, 40].entries())
      expect(Math.abs(data[c] - level)).toBeLessThanOrEqual(3);
  });
});

describe('pixels that are not square', () => {
  it('are made square, also when the clip is turned', async () => {
    const flat = clips.make(
      'wide-pixels.mp4',
      ...['-f', 'lavfi', '-i', 'testsrc2=s=72x60:r=10:d=0.4', '-vf', 'setsar=2/1', '-c:v', 'libx264'],
    );
    const facts = await probeHere(flat, 'it');
    expect([facts.width, facts.height]).toEqual([144, 60]);
    expect((await decodeAt(flat, facts, [1])).get(1)).toHaveLength(144 * 60 * 4);
  });
});
