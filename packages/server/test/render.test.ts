import {
  copyFileSync,
  existsSync,
  linkSync,
  mkdirSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  symlinkSync,
  writeFileSync,
} from 'node:fs';
import { basename, join } from 'node:path';
import { readGif } from '@muted-pond/core/gif';
import sharp from 'sharp';
import { afterAll, beforeAll, beforeEach, describe, expect, it, vi } from 'vitest';
import { readWithFfmpeg, readWithSharp } from '../../core/src/testing/independent-readers.js';
import { render } from '../src/cli/render.js';
import { type ClipFolder, clipFolder, goingRound, readNumber } from './clips.js';

let clips: ClipFolder;
let source: string;

beforeAll(() => {
  clips = clipFolder();
  source = clips.make(
    'lossless.mkv',
    '-f',
    'lavfi',
    '-i',
    'testsrc2=s=200x120:r=20:d=2',
    '-c:v',
    'ffv1',
    '-pix_fmt',
    'bgr0',
  );
});

afterAll(() => clips.remove());

/** Runs it and catches what it says on standard error. */
async function run(...args: string[]): Promise<{ code: number; said: string }> {
  const said: string[] = [];
  const write = vi.spyOn(process.stderr, 'write').mockImplementation((text) => {
    said.push(String(text));
    return true;
  });
  try {
    return { code: await render(args), said: said.join('') };
  } finally {
    write.mockRestore();
  }
}

const out = () => join(clips.path, 'out.gif');

describe('the command line', () => {
  it('makes a file and a report that agree with each other', async () => {
    const report = join(clips.path, 'report.json');
    const { code } = await run(
      ...[
        '--source',
        source,
        '--from',
        '0.5',
        '--to',
        '1.5',
        '--width',
        '100',
        '--fps',
        '10',
        '--colors',
        '64',
      ],
      ...['--dither', 'bayer', '--dither-strength', '30', '--plays', '3', '--out', out(), '--report', report],
    );
    expect(code).toBe(0);
    const bytes = readFileSync(out());
    const told = JSON.parse(readFileSync(report, 'utf8'));
    expect(told).toMatchObject({ frames: 10, width: 100, height: 60, durationMs: 1000, bytes: bytes.length });
    expect(told.colors).toBeLessThanOrEqual(64);
    expect(Object.keys(told.ms)).toEqual(['decode', 'compose', 'encode', 'total']);
    const read = readWithFfmpeg(bytes, 100, 60);
    expect(read.pictures).toHaveLength(10);
    expect(bytes.includes('NETSCAPE2.0')).toBe(true);
  });

  it('takes a recipe, and flags win over it', async () => {
    const recipe = join(clips.path, 'recipe.json');
    writeFileSync(
      recipe,
      JSON.stringify({
        version: 1,
        sources: [{ kind: 'footage', hash: 'f'.repeat(64) }],
        span: { start: 0, end: 20 },
        plays: 0,
        weigh: {
          width: 80,
          frameRate: 20,
          colors: 32,
          dither: 'none',
          ditherStrength: 0,
          settle: 3,
          squeeze: 0,
        },
      }),
    );
    expect((await run('--source', source, '--recipe', recipe, '--fps', '5', '--out', out())).code).toBe(0);
    expect(readWithFfmpeg(readFileSync(out()), 80, 48).pictures).toHaveLength(5);
  });

  it('has one palette for the loop, one for each frame, or as many as pay', async () => {
    const tables = async (...flags: string[]) => {
      const { code } = await run(
        '--source',
        source,
        '--width',
        '120',
        '--fps',
        '5',
        ...flags,
        '--out',
        out(),
      );
      expect(code).toBe(0);
      const { images } = readGif(readFileSync(out()));
      return new Set(images.map((image) => Buffer.from(image.colourTable).toString('hex'))).size;
    };
    expect(await tables('--palette', 'loop')).toBe(1);
    expect(await tables('--palette', 'frame')).toBe(10);
    expect(await tables('--palette', 'auto')).toBeGreaterThan(1);
    expect(await tables('--palette', 'auto', '--colors', '64')).toBe(1);
  });

  it('crops in upright pixels, and lays what is seen into a frame of exactly the size', async () => {
    const crop = ['--crop', '20,10,100,60', '--fps', '5'];
    expect((await run('--source', source, ...crop, '--width', '100', '--out', out())).code).toBe(0);
    expect(readWithFfmpeg(readFileSync(out()), 100, 60).pictures).toHaveLength(10);
    const box = ['--width', '80', '--height', '80', '--fit', 'contain', '--settle', '0', '--squeeze', '0'];
    expect((await run('--source', source, ...crop, ...box, '--out', out())).code).toBe(0);
    const [first] = readWithFfmpeg(readFileSync(out()), 80, 80).pictures;
    expect([...first.subarray(0, 3)]).toEqual([0, 0, 0]);
    expect([...first.subarray((40 * 80 + 40) * 4, (40 * 80 + 40) * 4 + 3)]).not.toEqual([0, 0, 0]);
  });

  it('makes stills from several pictures, on one canvas, each two seconds', async () => {
    const files = await Promise.all(
      [
        ['a', 60, 60, '#ff0000'],
        ['b', 120, 40, '#0000ff'],
      ].map(async ([name, width, height, background]) => {
        const path = join(clips.path, `${name}.png`);
        await sharp({
          create: {
            width: Number(width),
            height: Number(height),
            channels: 3,
            background: String(background),
          },
        })
          .png()
          .toFile(path);
        return path;
      }),
    );
    const shape = ['--width', '90', '--height', '60', '--fit', 'contain'];
    expect((await run('--source', ...files, ...shape, '--out', out())).code).toBe(0);
    const read = readWithFfmpeg(readFileSync(out()), 90, 60);
    expect(read.delaysCs).toEqual([200, 200]);
    const colourAt = (frame: number, x: number, y: number) => [
      ...read.pictures[frame].subarray((y * 90 + x) * 4, (y * 90 + x) * 4 + 3),
    ];
    expect(colourAt(0, 45, 30)).toEqual([255, 0, 0]);
    expect(colourAt(0, 4, 30)).toEqual([255, 255, 255]);
    expect(colourAt(1, 4, 30)).toEqual([0, 0, 255]);
    expect(colourAt(1, 45, 5)).toEqual([255, 255, 255]);
    const mixed = await run('--source', ...files, source, '--out', out());
    expect(mixed.said).toContain('“lossless.mkv” is not a picture');
  });

  it('sends an old GIF on with the delays and plays it came with', async () => {
    const delays = [70, 130, 40, 2000, 250];
    const pages = await Promise.all(
      delays.map((_, i) =>
        sharp({ create: { width: 32, height: 20, channels: 3, background: { r: 40 * i, g: 90, b: 20 } } })
          .png()
          .toBuffer(),
      ),
    );
    const old = join(clips.path, 'old.gif');
    await sharp(pages, { join: { animated: true } })
      .gif({ delay: delays, loop: 4 })
      .toFile(old);
    expect((await run('--source', old, '--out', out())).code).toBe(0);
    const { pages: frames, delay, loop } = await sharp(readFileSync(out()), { animated: true }).metadata();
    const before = await sharp(old, { animated: true }).metadata();
    expect([frames, delay, loop]).toEqual([before.pages, before.delay, before.loop]);
  });

  describe('closing the loop', () => {
    const FRAMES = 100;
    const RATE = 25;
    let round: string;
    beforeAll(() => {
      round = clips.make('round.mkv', ...goingRound(FRAMES, RATE, 40), '-c:v', 'ffv1');
    });
    /** Makes a file of the numbered frames and reads off what is shown, for how long, and how often. */
    async function shown(...flags: string[]) {
      const report = join(clips.path, 'round.json');
      const fixed = [
        '--settle',
        '0',
        '--squeeze',
        '0',
        '--dither',
        'none',
        '--out',
        out(),
        '--report',
        report,
      ];
      const { code, said } = await run('--source', round, '--fps', String(RATE), ...flags, ...fixed);
      expect(said).toBe('');
      expect(code).toBe(0);
      const { pictures, delaysCs, plays, width } = await readWithSharp(readFileSync(out()));
      return {
        numbers: pictures.map((picture) => readNumber(picture, 4, width)),
        pictures,
        delaysCs,
        plays,
        report: JSON.parse(readFileSync(report, 'utf8')),
      };
    }
    const counted = (from: number, to: number) => Array.from({ length: to - from }, (_, i) => from + i);

    it('goes there and back without a doubled end, and backwards', async () => {
      const back = await shown('--from', '0.4', '--to', '0.8', '--join', 'there-and-back');
      expect(back.numbers).toEqual([...counted(10, 20), ...counted(11, 19).reverse()]);
      expect((await shown('--from', '0.4', '--to', '0.8', '--reverse')).numbers).toEqual(
        counted(10, 20).reverse(),
      );
    });

    it('is faster with whole delays that add up, and seen as often as it is told', async () => {
      const fast = await shown('--from', '0', '--to', '2', '--speed', '2', '--plays', '5');
      expect(fast.numbers).toEqual(counted(0, 25).map((frame) => frame * 2));
      expect(fast.delaysCs.reduce((sum, delay) => sum + delay, 0)).toBe(100);
      expect(fast.plays).toBe(5);
      expect((await shown('--from', '0', '--to', '1', '--plays', '1')).plays).toBe(1);
    });

    it('melts the end into what lies before the start', async () => {
      const { pictures } = await shown('--from', '1', '--to', '2', '--join', 'crossfade:4');
      // Output 24 is 4/5 of frame 24 and 1/5 of frame 49: each square of the number says so.
      const squares = (picture: Uint8Array) =>
        counted(0, 6).map((bit) => picture[(16 * 160 + bit * 16 + 8) * 4]);
      const bits = (frame: number) => counted(0, 6).map((bit) => (frame >> bit) & 1);
      const [before, last] = [bits(24), bits(49)];
      for (const [bit, level] of squares(pictures[24]).entries()) {
        expect(level / 255).toBeCloseTo(0.8 * before[bit] + 0.2 * last[bit], 1);
      }
    });

    it('finds the loop by itself where the footage meets itself, and tells it', async () => {
      const { numbers, report } = await shown(
        '--crop',
        '0,32,160,80',
        '--loop',
        'auto',
        '--loop-length',
        '1,2',
      );
      const { startFrame, endFrame, score } = report.loop;
      expect(endFrame - startFrame).toBe(40);
      expect(score).toBeGreaterThan(92);
      expect(numbers).toHaveLength(40);
    });

    it('has no loop to find in pictures', async () => {
      const picture = join(clips.path, 'still.png');
      await sharp({ create: { width: 8, height: 8, channels: 3, background: '#123456' } }).toFile(picture);
      const { said } = await run('--source', picture, '--loop', 'auto', '--out', out());
      expect(said).toContain('does not move; --loop auto needs footage');
    });
  });

  it.each([
    [['--crop', '1,2,3'], '--crop 1,2,3: give four whole numbers'],
    [['--crop', '150,0,60,60'], 'leaves the picture, which is 200 × 120 px'],
    [['--height', '90'], 'give both'],
    [['--speed', '0'], '--speed 0: give a number from 0.01 to 100'],
    [['--join', 'glue'], '--join glue: give cut, crossfade:N'],
    [['--join', 'crossfade:0'], 'with N from 1 to 240'],
    [
      ['--from', '0.5', '--fps', '20', '--join', 'crossfade:99'],
      '10 are there. Give --join crossfade:10 or move --from',
    ],
    [['--loop', 'manual'], 'auto is what there is'],
    [['--loop-length', '1,2'], 'belongs to --loop auto'],
    [['--loop', 'auto', '--loop-length', '2,1'], 'give two numbers of seconds, MIN,MAX'],
    [['--loop', 'auto', '--loop-length', '5,9'], 'No loop of 5 to 9 s'],
    [['--limit', '12'], '--limit 12: give a whole number from 100'],
    [['--limit', '200'], 'Give a larger --limit'],
    [['--palette', 'stripes'], 'choose one of auto, loop, frame'],
    [['--sparkle', '1'], 'sparkle'],
    [['--colors', '1'], '--colors 1: give a whole number from 2 to 256'],
    [['--fps', 'fast'], '--fps fast: give a number'],
    [['--dither', 'dots'], 'choose one of none'],
    [['--from', '1.9', '--to', '1.2'], 'holds no frame; the footage lasts 2.00 s'],
    [['--recipe', 'nowhere.json'], '“nowhere.json” does not exist'],
  ])('refuses %j in one line and writes nothing', async (flags, sentence) => {
    const target = join(clips.path, 'never.gif');
    const { code, said } = await run('--source', source, ...flags, '--out', target);
    expect(code).toBe(1);
    expect(said).toContain(sentence);
    expect(said.trimEnd().split('\n')).toHaveLength(1);
    expect(existsSync(target)).toBe(false);
  });

  describe('never writes over what it reads', () => {
    let folder: string;
    let footage: string;
    beforeEach(() => {
      folder = mkdtempSync(join(clips.path, 'paths-'));
      footage = join(folder, 'loop.gif');
      copyFileSync(new URL('../../../demo/footage/old loop.gif', import.meta.url), footage);
    });

    const refused = async (...args: string[]) => {
      const before = readFileSync(footage);
      const names = readdirSync(folder).sort();
      const { code, said } = await run('--source', footage, ...args);
      expect([code, said.trimEnd().split('\n').length]).toEqual([1, 1]);
      expect(readFileSync(footage).equals(before)).toBe(true);
      expect(readdirSync(folder).sort()).toEqual(names);
      expect(said).not.toContain('.half');
      return said;
    };

    it('by the same path, another one, a link or a hard link', async () => {
      symlinkSync(footage, join(folder, 'link.gif'));
      symlinkSync(folder, join(folder, 'folder'));
      linkSync(footage, join(folder, 'hard.gif'));
      const others = [
        'loop.gif',
        `../${basename(folder)}/loop.gif`,
        'link.gif',
        'folder/loop.gif',
        'hard.gif',
      ];
      for (const path of others) {
        expect(await refused('--out', join(folder, path))).toContain('is the file that --source reads');
      }
    });

    it('nor with a report, a poster or a page, nor two results over each other', async () => {
      const out = ['--out', join(folder, 'new.gif')];
      expect(await refused(...out, '--report', footage)).toContain('--report');
      expect(await refused(...out, '--report', join(folder, 'new.gif'))).toContain('are the same file');
      expect(await refused(...out, '--out', join(folder, '.', 'new.gif'))).toContain('are the same file');
      const mask = join(folder, 'mask.png');
      writeFileSync(mask, 'a mask');
      expect(await refused(...out, '--mask', mask, '--poster', mask)).toContain(
        'is the file that --mask reads',
      );
      expect(readFileSync(mask, 'utf8')).toBe('a mask');
    });

    it('and says what is a folder', async () => {
      expect(await refused('--out', `${folder}.gif/x.gif`)).toContain('does not exist');
      mkdirSync(join(folder, 'results.gif'));
      expect(await refused('--out', join(folder, 'results.gif'))).toContain(
        'is a folder. Name a file in it.',
      );
      const { code, said } = await run('--source', folder, '--out', out());
      expect([code, said]).toEqual([1, expect.stringContaining('is a folder. Name the file itself')]);
    });
  });

  it('refuses what is no video, what is not there and what it cannot write', async () => {
    const text = join(clips.path, 'letter.mp4');
    writeFileSync(text, 'Dear tea house');
    expect((await run('--source', text, '--out', out())).said).toContain(
      '“letter.mp4” is neither a video nor a picture',
    );
    expect((await run('--source', 'gone.mp4', '--out', out())).said).toContain('“gone.mp4” does not exist');
    expect((await run('--source', source, '--out', 'it.tiff')).said).toContain(
      '.gif (GIF), .webp (WebP), .png (APNG), .avif (AVIF), .mp4 (MP4), .webm (WebM) and .zip (Frames)',
    );
    expect((await run('--out', out())).said).toContain('--source FILE --out FILE.gif');
    const nowhere = await run('--source', source, '--width', '32', '--fps', '2', '--out', '/nowhere/it.gif');
    expect(nowhere.code).toBe(1);
    expect(nowhere.said).toContain('does not exist');
  });
});
