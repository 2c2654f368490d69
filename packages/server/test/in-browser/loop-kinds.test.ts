import { execFileSync } from 'node:child_process';
import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { type Browser, chromium, type Page } from '@playwright/test';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest';
import { LAUNCH } from '../../../../tools/browser.js';
import { render } from '../../src/cli/render.js';
import {
  type ClipFolder,
  clipFolder,
  NUMBERED_HEIGHT,
  NUMBERED_WIDTH,
  numberedFrames,
  readNumber,
} from '../clips.js';

/** 40 numbered frames at 20 a second; a ball with soft, transparent edges. */
let clips: ClipFolder;
let numbered: string;
let seeThrough: string;
let browser: Browser;
let page: Page;
beforeAll(async () => {
  clips = clipFolder();
  numbered = clips.make('numbered.mkv', ...numberedFrames(40, 20), '-c:v', 'ffv1');
  writeFileSync(at('ball.rgba'), Buffer.concat(Array.from({ length: 10 }, (_, n) => softBall(n))));
  const raw = ['-f', 'rawvideo', '-pix_fmt', 'rgba', '-s', `${BALL}x${BALL}`, '-r', '10'];
  seeThrough = clips.make('ball.mkv', ...raw, '-i', at('ball.rgba'), '-c:v', 'ffv1');
  browser = await chromium.launch(LAUNCH);
  page = await browser.newPage();
  // Image decoders are given to pages that nobody between can change.
  writeFileSync(at('blank.html'), '<!doctype html>');
  await page.goto(`file://${at('blank.html')}`);
});
afterAll(async () => {
  await browser.close();
  clips.remove();
});

const at = (name: string) => join(clips.path, name);

/** Side of the pictures with the ball, px. */
const BALL = 64;

/** How much of the ball's colour is seen at a place of its frame, 0–255. */
function ballAlpha(n: number, x: number, y: number): number {
  const away = Math.hypot(x - 20 - 2 * n, y - BALL / 2);
  return Math.round(Math.max(0, Math.min(255, 255 * (1.5 - away / 12))));
}

function softBall(n: number): Buffer {
  const pixel = (_: unknown, p: number) => [200, 90, 40, ballAlpha(n, p % BALL, Math.floor(p / BALL))];
  return Buffer.from(Array.from({ length: BALL * BALL }, pixel).flat());
}

async function run(...flags: string[]): Promise<{ code: number; said: string }> {
  const said: string[] = [];
  const write = vi.spyOn(process.stderr, 'write').mockImplementation((text) => said.push(String(text)) > 0);
  try {
    return { code: await render(flags), said: said.join('') };
  } finally {
    write.mockRestore();
  }
}

/** A second of the numbered footage, at 10 frames a second: frames 0, 2, 4 … 18. */
async function made(name: string, ...flags: string[]): Promise<Buffer> {
  const { code, said } = await run(
    ...['--source', numbered, '--from', '0', '--to', '1', '--fps', '10', '--out', at(name), ...flags],
  );
  expect([code, said]).toEqual([0, '']);
  return readFileSync(at(name));
}

const WANTED = [0, 2, 4, 6, 8, 10, 12, 14, 16, 18];

interface Decoded {
  readonly numbers: number[];
  readonly delaysMs: number[];
  readonly plays: number;
  /** Of every pixel of the row in the middle, frame by frame. */
  readonly alphas: number[][];
}

/** An animated image as Chromium decodes it. */
async function inChromium(bytes: Buffer, type: string): Promise<Decoded> {
  const { rows, ...told } = await page.evaluate(
    async ({ base64, mime }) => {
      const data = Uint8Array.from(atob(base64), (c) => c.charCodeAt(0));
      const decoder = new ImageDecoder({ data, type: mime });
      await Promise.all([decoder.tracks.ready, decoder.completed]);
      const track = decoder.tracks.selectedTrack;
      if (!track) throw new Error('No track.');
      const rows: { number: number[]; alpha: number[] }[] = [];
      const delaysMs: number[] = [];
      for (let frameIndex = 0; frameIndex < track.frameCount; frameIndex++) {
        const { image } = await decoder.decode({ frameIndex });
        delaysMs.push((image.duration ?? 0) / 1000);
        const { displayWidth: width, displayHeight: height } = image;
        const context = new OffscreenCanvas(width, height).getContext('2d');
        context?.drawImage(image, 0, 0);
        const row = (y: number) => [...(context?.getImageData(0, y, width, 1).data ?? [])];
        rows.push({ number: row(16), alpha: row(height >> 1).filter((_, i) => i % 4 === 3) });
        image.close();
      }
      const repeats = track.repetitionCount;
      return { rows, delaysMs, plays: repeats === Number.POSITIVE_INFINITY ? 0 : repeats + 1 };
    },
    { base64: bytes.toString('base64'), mime: type },
  );
  return {
    ...told,
    numbers: rows.map(({ number }) => numberOfRow(number)),
    alphas: rows.map(({ alpha }) => alpha),
  };
}

/** The number that a row of the light and dark squares says, RGBA. */
function numberOfRow(row: readonly number[]): number {
  return readNumber(Uint8Array.from([...Array(16 * row.length).fill(0), ...row]), 4, row.length / 4);
}

interface SeenFrame {
  readonly number: number;
  readonly seconds: number;
}

/** A busy page may miss frames that the browser has shown, and says so; the movie is played again then. */
const MOST_PLAYINGS = 4;

/** Frame numbers and times of two rounds of a movie that goes round in Chromium. */
async function twoRounds(bytes: Buffer, type: string): Promise<readonly SeenFrame[]> {
  for (let playing = 1; ; playing++) {
    const { seen, missed } = await playTwice(bytes, type);
    if (missed === 0 || playing === MOST_PLAYINGS) return seen;
  }
}

/** @returns what was seen, and how many frames were shown or dropped that the page did not see. */
async function playTwice(bytes: Buffer, type: string): Promise<{ seen: SeenFrame[]; missed: number }> {
  return page.evaluate(
    async ({ base64, mime, width }) => {
      const data = Uint8Array.from(atob(base64), (c) => c.charCodeAt(0));
      const video = document.createElement('video');
      video.muted = true;
      video.loop = true;
      video.src = URL.createObjectURL(new Blob([data], { type: mime }));
      // Slowly, so that a busy machine leaves no frame out.
      video.playbackRate = 0.25;
      const canvas = new OffscreenCanvas(width, 48);
      const context = canvas.getContext('2d', { willReadFrequently: true });
      const seen: { number: number; seconds: number }[] = [];
      let missed = 0;
      await new Promise<void>((resolve, reject) => {
        video.onerror = () => reject(new Error(video.error?.message));
        let rounds = 0;
        let presented = 0;
        const look = (_: number, told: { mediaTime: number; presentedFrames: number }) => {
          const { mediaTime, presentedFrames } = told;
          if (presented > 0) missed += presentedFrames - presented - 1;
          presented = presentedFrames;
          context?.drawImage(video, 0, 0);
          let number = 0;
          for (let bit = 0; bit < 10; bit++) {
            const red = context?.getImageData(Math.floor((bit + 0.5) * 16), 16, 1, 1).data[0] ?? 0;
            if (red > 128) number |= 1 << bit;
          }
          const last = seen.at(-1);
          if (last && mediaTime < last.seconds) rounds++;
          if (rounds === 2) return resolve();
          seen.push({ number, seconds: mediaTime });
          video.requestVideoFrameCallback(look);
        };
        video.requestVideoFrameCallback(look);
        video.play().catch(reject);
      });
      missed += video.getVideoPlaybackQuality().droppedVideoFrames;
      video.remove();
      return { seen, missed };
    },
    { base64: bytes.toString('base64'), mime: type, width: NUMBERED_WIDTH },
  );
}

/** What ffmpeg's own tool says of a file. */
function probed(name: string): {
  streams: Record<string, string>[];
  format: Record<string, string>;
  packets: { pts_time: string }[];
} {
  const text = execFileSync('ffprobe', [
    ...['-v', 'error', '-of', 'json', '-show_entries', 'stream:format:packet=pts_time', at(name)],
  ]);
  return JSON.parse(text.toString());
}

/** The number of each frame as ffmpeg decodes the file. */
function numbersByFfmpeg(name: string): number[] {
  const raw = execFileSync('ffmpeg', [
    ...['-v', 'error', '-i', at(name), '-fps_mode', 'passthrough', '-pix_fmt', 'gray', '-f', 'rawvideo', '-'],
  ]);
  const size = NUMBERED_WIDTH * NUMBERED_HEIGHT;
  return Array.from({ length: raw.length / size }, (_, i) =>
    readNumber(raw.subarray(i * size, (i + 1) * size), 1, NUMBERED_WIDTH),
  );
}

const sum = (numbers: readonly number[]) => numbers.reduce((total, one) => total + one, 0);

const IMAGES = [
  ['gif', 'image/gif'],
  ['webp', 'image/webp'],
  ['png', 'image/png'],
  ['avif', 'image/avif'],
] as const;

describe('animated images in a browser', () => {
  it.each(IMAGES)('.%s shows each frame for its time, as often as it says', async (ending, mime) => {
    for (const plays of [0, 1, 3]) {
      const bytes = await made(`loop.${ending}`, '--plays', String(plays));
      const seen = await inChromium(bytes, mime);
      expect(seen.numbers).toEqual(WANTED);
      expect(seen.delaysMs.map(Math.round)).toEqual(WANTED.map(() => 100));
      expect(seen.plays).toBe(plays);
    }
  });

  it.each(IMAGES.slice(1))(
    '.%s counts thousandths, so a rate may be uneven in hundredths',
    async (ending, mime) => {
      const flags = [
        '--source',
        numbered,
        '--from',
        '0',
        '--to',
        '1.5',
        '--fps',
        '7',
        '--out',
        at(`odd.${ending}`),
      ];
      expect(await run(...flags)).toEqual({ code: 0, said: '' });
      const { delaysMs, numbers } = await inChromium(readFileSync(at(`odd.${ending}`)), mime);
      expect(Math.round(sum(delaysMs))).toBe(1500);
      // Each is the frame of the source that is shown when it begins.
      let began = 0;
      for (const [i, delay] of delaysMs.entries()) {
        expect(numbers[i]).toBe(Math.round((began / 1000) * 20));
        began += delay;
      }
    },
  );

  it.each(IMAGES.slice(1))('.%s keeps soft edges', async (ending, mime) => {
    const out = at(`ball.${ending}`);
    expect(await run('--source', seeThrough, '--out', out)).toEqual({ code: 0, said: '' });
    const { alphas: shown } = await inChromium(readFileSync(out), mime);
    expect(shown).toHaveLength(10);
    for (const [n, alphas] of shown.entries()) {
      for (const [x, alpha] of alphas.entries()) {
        const wanted = ballAlpha(n, x, BALL / 2);
        expect(Math.abs(alpha - wanted), `frame ${n}, x ${x}`).toBeLessThanOrEqual(ending === 'png' ? 1 : 4);
      }
    }
  });
});

describe('movies in a browser', () => {
  it.each([
    ['mp4', 'video/mp4'],
    ['webm', 'video/webm'],
  ])('.%s goes round without a repeated or a dropped frame', async (ending, mime) => {
    const bytes = await made(`loop.${ending}`);
    const seen = await twoRounds(bytes, mime);
    expect(seen.map(({ number }) => number)).toEqual([...WANTED, ...WANTED]);
    expect(Number(probed(`loop.${ending}`).format.duration)).toBeCloseTo(1, 2);
  });

  it.each([
    ['mp4', 'video/mp4'],
    ['webm', 'video/webm'],
  ])('.%s shows frames of uneven times each for its own', async (ending, mime) => {
    const out = at(`rest.${ending}`);
    // 20 frames a second at 7: steps of two and three frames.
    const flags = ['--source', numbered, '--from', '0', '--to', '1.5', '--fps', '7', '--out', out];
    expect(await run(...flags)).toEqual({ code: 0, said: '' });
    const seen = await twoRounds(readFileSync(out), mime);
    const first = seen.slice(0, seen.length / 2);
    expect(seen.slice(first.length).map(({ number }) => number)).toEqual(first.map(({ number }) => number));
    for (const { number, seconds } of first) expect(number).toBe(Math.round(seconds * 20));
    expect(Number(probed(`rest.${ending}`).format.duration)).toBeCloseTo(1.5, 2);
  });

  it('run at the footage’s own rate, which a GIF cannot', async () => {
    const fast = clips.make('fast.mkv', ...numberedFrames(60, 60), '-c:v', 'ffv1');
    for (const ending of ['mp4', 'webm', 'gif']) {
      const flags = ['--source', fast, '--fps', '60', '--out', at(`fast.${ending}`)];
      expect(await run(...flags)).toEqual({ code: 0, said: '' });
    }
    expect(probed('fast.mp4').packets).toHaveLength(60);
    expect(probed('fast.webm').packets).toHaveLength(60);
    expect(Number(probed('fast.mp4').format.duration)).toBeCloseTo(1, 2);
    expect(probed('fast.gif').packets.length).toBeLessThanOrEqual(50);
  });

  it('are H.264 in 4:2:0 without sound, with even sides, and say what their colours are', async () => {
    for (const [odd, width] of [
      ['crop', '98'],
      ['pad', '100'],
    ]) {
      await made('odd.mp4', '--width', '99', '--odd', odd);
      const { streams } = probed('odd.mp4');
      expect(streams).toHaveLength(1);
      expect(streams[0]).toMatchObject({
        ...{ codec_name: 'h264', pix_fmt: 'yuv420p', color_range: 'tv', color_space: 'bt709' },
        ...{ color_transfer: 'bt709', color_primaries: 'bt709' },
      });
      expect(String(streams[0].width)).toBe(width);
      expect(Number(streams[0].height) % 2).toBe(0);
    }
  });

  it('are described before their pictures, so that they play while they are fetched', async () => {
    const bytes = await made('fast-start.mp4');
    const text = bytes.toString('latin1');
    expect(text.indexOf('moov')).toBeGreaterThan(0);
    expect(text.indexOf('moov')).toBeLessThan(text.indexOf('mdat'));
  });

  it('hold whole rounds up to a length', async () => {
    for (const ending of ['mp4', 'webm']) {
      await made(`long.${ending}`, '--repeat-to', '3.5');
      const { packets, format } = probed(`long.${ending}`);
      expect(packets).toHaveLength(30);
      expect(Number(format.duration)).toBeCloseTo(3, 2);
    }
    expect(numbersByFfmpeg('long.mp4')).toEqual([...WANTED, ...WANTED, ...WANTED]);
  });

  it('shows in a browser the colours of the footage', async () => {
    const patches = clips.make(
      'patches.mkv',
      ...['-f', 'lavfi', '-i', 'color=0xc83214:s=96x96:r=10:d=0.4', '-c:v', 'ffv1', '-pix_fmt', 'bgr0'],
    );
    for (const [ending, mime] of [
      ['mp4', 'video/mp4'],
      ['webm', 'video/webm'],
      ['avif', 'image/avif'],
      ['webp', 'image/webp'],
    ]) {
      const out = at(`patches.${ending}`);
      expect(await run('--source', patches, '--out', out)).toEqual({ code: 0, said: '' });
      const seen = await page.evaluate(
        async ({ base64, type }) => {
          const data = Uint8Array.from(atob(base64), (c) => c.charCodeAt(0));
          const url = URL.createObjectURL(new Blob([data], { type }));
          const shown = document.createElement(type.startsWith('video') ? 'video' : 'img');
          shown.src = url;
          if (shown instanceof HTMLVideoElement) {
            await new Promise((resolve) => shown.requestVideoFrameCallback(resolve));
          } else await shown.decode();
          const context = new OffscreenCanvas(96, 96).getContext('2d');
          context?.drawImage(shown, 0, 0);
          return [...(context?.getImageData(48, 48, 1, 1).data ?? [])];
        },
        { base64: readFileSync(out).toString('base64'), type: mime },
      );
      for (const [channel, wanted] of [0xc8, 0x32, 0x14].entries()) {
        expect(Math.abs(seen[channel] - wanted), `${ending}, channel ${channel}`).toBeLessThanOrEqual(5);
      }
    }
  });
});

describe('other readers', () => {
  it('libwebp’s own tool finds the frames of a WebP, and nothing wrong', async () => {
    await made('told.webp', '--plays', '5');
    const text = execFileSync('webpinfo', [at('told.webp')]).toString();
    expect(text).toContain('No error detected');
    expect(text).toMatch(/Loop count\s*:\s*5/);
    expect([...text.matchAll(/Chunk ANMF/g)]).toHaveLength(10);
  });

  it('libvips reads a WebP without loss to the bit, ffmpeg an exact PNG', async () => {
    await made('exact.webp', '--quality-of', 'webp=lossless');
    await made('exact.png', '--quality-of', 'apng=exact');
    const zip = await made('exact.zip');
    expect(zip.length).toBeGreaterThan(1000);
    const reference = execFileSync('ffmpeg', [
      ...[
        '-v',
        'error',
        '-i',
        numbered,
        '-vf',
        "select='not(mod(n,2))*lt(n,20)'",
        '-fps_mode',
        'passthrough',
      ],
      ...['-pix_fmt', 'rgba', '-f', 'rawvideo', '-'],
    ]);
    const webp = await sharp(readFileSync(at('exact.webp')), { pages: -1 })
      .ensureAlpha()
      .raw()
      .toBuffer();
    const png = execFileSync('ffmpeg', [
      ...['-v', 'error', '-i', at('exact.png'), '-fps_mode', 'passthrough', '-pix_fmt', 'rgba'],
      ...['-f', 'rawvideo', '-'],
    ]);
    expect(Buffer.compare(webp, png)).toBe(0);
    expect(webp.length).toBe(reference.length);
  });

  it('a palette makes a PNG lighter, and it is told of', async () => {
    const full = await made('full.png', '--report', at('full.json'));
    const few = await made('few.png', '--quality-of', 'apng=palette', '--report', at('few.json'));
    expect(few.length).toBeLessThan(full.length);
    expect((await inChromium(few, 'image/png')).numbers).toEqual(WANTED);
    expect(JSON.parse(readFileSync(at('few.json'), 'utf8')).colors).toBeLessThanOrEqual(256);
    expect(JSON.parse(readFileSync(at('full.json'), 'utf8'))).not.toHaveProperty('colors');
  });

  it('an interlaced GIF shows the same pictures', async () => {
    const plain = await made('plain.gif', '--squeeze', '0');
    const interlaced = await made('rows.gif', '--squeeze', '0', '--interlaced');
    expect(interlaced.equals(plain)).toBe(false);
    const [one, other] = await Promise.all(
      [plain, interlaced].map((bytes) => sharp(bytes, { pages: -1 }).ensureAlpha().raw().toBuffer()),
    );
    expect(Buffer.compare(one, other)).toBe(0);
  });
});

describe('one line for many files', () => {
  it('makes them all, or none, and a page that shows them', async () => {
    const outs = ['all.gif', 'all.webp', 'all.avif', 'all.mp4'];
    const flags = ['--source', numbered, '--from', '0', '--to', '1', '--fps', '10'];
    const named = outs.flatMap((name) => ['--out', at(name)]);
    const extra = ['--poster', at('all.jpg'), '--snippet', at('all.html'), '--report', at('all.json')];
    expect(await run(...flags, ...named, ...extra)).toEqual({ code: 0, said: '' });
    const report = JSON.parse(readFileSync(at('all.json'), 'utf8'));
    expect(report.files.map((file: { out: string }) => file.out)).toEqual(outs.map(at));
    for (const [i, name] of outs.entries()) {
      expect(report.files[i].bytes).toBe(readFileSync(at(name)).length);
    }
    expect((await sharp(at('all.jpg')).metadata()).format).toBe('jpeg');
    const visit = await browser.newPage();
    await visit.goto(`file://${at('all.html')}`);
    const shown = await visit.evaluate(async () => {
      const image = document.querySelector('img');
      await image?.decode();
      return { from: image?.currentSrc.split('/').at(-1), width: image?.naturalWidth };
    });
    expect(shown).toEqual({ from: 'all.avif', width: NUMBERED_WIDTH });
    await visit.emulateMedia({ reducedMotion: 'reduce' });
    await visit.reload();
    expect(await visit.evaluate(() => document.querySelector('img')?.currentSrc.split('/').at(-1))).toBe(
      'all.jpg',
    );
    await visit.close();
  });

  it('gets each kind under a limit', async () => {
    for (const [ending, limit] of [
      ['webp', 9_000],
      ['avif', 4_000],
      ['mp4', 5_000],
      ['png', 9_000],
    ] as const) {
      const bytes = await made(`small.${ending}`, '--limit', String(limit));
      expect(bytes.length, ending).toBeLessThanOrEqual(limit);
    }
  });

  it.each([
    [['--out', 'x.mp4', '--quality-of', 'mp4=200'], 'mp4 takes a number from 0 to 100'],
    [['--out', 'x.mp4', '--quality-of', 'flac=3'], 'with one of gif, webp, apng'],
    [['--out', 'x.mp4', '--repeat-to=-1'], '--repeat-to -1'],
    [['--out', 'x.gif', '--out', 'x.bmp'], '--out “x.bmp”'],
    [['--out', 'x.gif', '--poster', 'x.tiff'], 'a poster is a PNG, a JPEG or a WebP'],
    [['--out', 'x.zip', '--snippet', 'x.html'], 'a page cannot show a ZIP'],
    [['--out', 'x.gif', '--matte', 'green'], '--matte green'],
    [['--out', 'x.mp4', '--to', '0.04'], 'has one frame, and MP4 is a movie'],
  ])('%s is refused in one line', async (flags, words) => {
    const { code, said } = await run('--source', numbered, '--to', '1', ...flags);
    expect(code).toBe(1);
    expect(said).toContain(words);
    expect(said.trim().split('\n')).toHaveLength(1);
  });

  it('a movie of transparent frames needs a colour behind them', async () => {
    const refused = await run('--source', seeThrough, '--out', at('ball.mp4'));
    expect(refused.code).toBe(1);
    expect(refused.said).toContain('MP4 cannot hold that');
    expect(refused.said).toContain('--matte');
    const made_ = await run('--source', seeThrough, '--out', at('ball.mp4'), '--matte', '#00ff00');
    expect(made_).toEqual({ code: 0, said: '' });
    const rgb = execFileSync('ffmpeg', [
      ...['-v', 'error', '-i', at('ball.mp4'), '-frames:v', '1', '-pix_fmt', 'rgb24', '-f', 'rawvideo', '-'],
    ]);
    expect(rgb[1]).toBeGreaterThan(200);
    expect(rgb[0]).toBeLessThan(60);
  });
});
