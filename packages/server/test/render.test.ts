import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest';
import { readWithFfmpeg } from '../../core/src/testing/independent-readers.js';
import { render } from '../src/cli/render.js';
import { type ClipFolder, clipFolder } from './clips.js';

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

  it.each([
    [['--crop', '1,2,3,4'], '--crop is not built yet'],
    [['--steady'], '--steady is not built yet'],
    [['--palette', 'frame'], '--palette frame is not built yet'],
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

  it('refuses what is no video, what is not there and what it cannot write', async () => {
    const text = join(clips.path, 'letter.mp4');
    writeFileSync(text, 'Dear tea house');
    expect((await run('--source', text, '--out', out())).said).toContain('“letter.mp4” is not a video');
    expect((await run('--source', 'gone.mp4', '--out', out())).said).toContain('“gone.mp4” does not exist');
    expect((await run('--source', source, '--out', 'it.webp')).said).toContain('only .gif is built yet');
    expect((await run('--out', out())).said).toContain('--source FILE --out FILE.gif');
    const nowhere = await run('--source', source, '--width', '32', '--fps', '2', '--out', '/nowhere/it.gif');
    expect(nowhere.code).toBe(1);
    expect(nowhere.said).toContain('does not exist');
  });
});
