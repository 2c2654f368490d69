import { existsSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { FILE_KIND_IDS, FILE_KINDS, fileKind } from '@muted-pond/core/files';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest';
import { fromBuffer } from 'yauzl';
import { render } from '../src/cli/render.js';
import { MAKERS } from '../src/making/kinds/index.js';
import {
  type ClipFolder,
  clipFolder,
  NUMBERED_HEIGHT,
  NUMBERED_WIDTH,
  numberedFrames,
  readNumber,
} from './clips.js';

let clips: ClipFolder;
let source: string;
beforeAll(() => {
  clips = clipFolder();
  source = clips.make('numbered.mkv', ...numberedFrames(40, 20), '-c:v', 'ffv1');
});
afterAll(() => clips.remove());

const at = (name: string) => join(clips.path, name);

async function run(...flags: string[]): Promise<{ code: number; said: string }> {
  const said: string[] = [];
  const write = vi.spyOn(process.stderr, 'write').mockImplementation((text) => said.push(String(text)) > 0);
  try {
    return { code: await render(['--source', source, '--from', '0', ...flags]), said: said.join('') };
  } finally {
    write.mockRestore();
  }
}

/** Every entry of a ZIP, as another reader sees it. */
function unzip(path: string): Promise<Map<string, Buffer>> {
  return new Promise((resolve, reject) => {
    const entries = new Map<string, Buffer>();
    fromBuffer(readFileSync(path), { lazyEntries: true }, (error, zip) => {
      if (error) return reject(error);
      zip.on('entry', (entry) => {
        zip.openReadStream(entry, (wrong, stream) => {
          if (wrong) return reject(wrong);
          const chunks: Buffer[] = [];
          stream.on('data', (chunk) => chunks.push(chunk));
          stream.on('end', () => {
            entries.set(entry.fileName, Buffer.concat(chunks));
            zip.readEntry();
          });
        });
      });
      zip.on('end', () => resolve(entries));
      zip.on('error', reject);
      zip.readEntry();
    });
  });
}

async function numberIn(png: Buffer | string): Promise<number> {
  const { data, info } = await sharp(png).ensureAlpha().raw().toBuffer({ resolveWithObject: true });
  return readNumber(data, 4, info.width);
}

describe('kinds of file', () => {
  it('each have a maker, a name, and an ending and a type of their own', () => {
    expect(Object.keys(MAKERS).sort()).toEqual([...FILE_KIND_IDS].sort());
    expect(new Set(FILE_KIND_IDS.map((id) => fileKind(id).mime)).size).toBe(FILE_KIND_IDS.length);
    for (const [id, kind] of Object.entries(FILE_KINDS)) {
      expect(kind.id).toBe(id);
      expect(kind.settings.schema.validate(kind.settings.defaults).error).toBeUndefined();
    }
  });

  it('frames are a ZIP of PNGs, each the frame it should be, and a list of their delays', async () => {
    const report = at('report.json');
    const flags = ['--to', '1', '--fps', '8', '--out', at('frames.zip'), '--report', report];
    expect((await run(...flags)).code).toBe(0);
    const entries = await unzip(at('frames.zip'));
    const list = entries.get('delays.txt')?.toString() ?? '';
    const rows = [...list.matchAll(/^(frame-\d+\.png) (\d+\.\d\d)$/gm)];
    expect(rows).toHaveLength(8);
    expect(entries.size).toBe(9);
    expect(rows.reduce((sum, [, , seconds]) => sum + Number(seconds), 0)).toBeCloseTo(1, 6);
    const numbers = await Promise.all(rows.map(([, name]) => numberIn(entries.get(name) as Buffer)));
    // Each is the frame of the source that is shown when it begins.
    let began = 0;
    for (const [i, [, , seconds]] of rows.entries()) {
      expect(numbers[i]).toBe(Math.round(began * 20));
      began += Number(seconds);
    }
    const told = JSON.parse(readFileSync(report, 'utf8'));
    expect(told).toMatchObject({ frames: 8, durationMs: 1000, likeness: 1 });
    expect(told).not.toHaveProperty('colors');
  });

  it('frames are the same file again and again', async () => {
    const flags = ['--to', '0.5', '--fps', '8', '--out'];
    await run(...flags, at('one.zip'));
    await run(...flags, at('other.zip'));
    expect(readFileSync(at('one.zip')).equals(readFileSync(at('other.zip')))).toBe(true);
  });

  it('a poster is the first frame, a frame by its place, or the plate', async () => {
    const mask = at('mask.png');
    const size = { width: NUMBERED_WIDTH, height: NUMBERED_HEIGHT };
    await sharp({ create: { ...size, channels: 3, background: '#ffffff' } }).toFile(mask);
    const poster = (...flags: string[]) =>
      run('--to', '1', '--fps', '10', '--out', at('loop.gif'), '--poster', at('poster.png'), ...flags);
    expect((await poster()).code).toBe(0);
    expect(await numberIn(at('poster.png'))).toBe(0);
    await poster('--poster-frame', '4');
    expect(await numberIn(at('poster.png'))).toBe(8);
    // All moves over the plate, and still the poster shows it.
    await poster('--mask', mask, '--plate', '13');
    expect(await numberIn(at('poster.png'))).toBe(13);
  });

  it('what a kind cannot be is said before anything is written', async () => {
    for (const [flags, words] of [
      [['--out', at('no.tiff')], '.gif (GIF)'],
      [['--out', at('no.gif'), '--poster', at('no.bmp')], 'a poster is a PNG, a JPEG or a WebP'],
      [['--out', at('no.gif'), '--poster', at('no.png'), '--poster-frame', '999'], 'no frame 999'],
      [['--out', at('no.zip'), '--limit', '1000'], 'Frames has no settings that make it lighter'],
    ] as const) {
      const { code, said } = await run('--to', '1', ...flags);
      expect([code, said]).toEqual([1, expect.stringContaining(words)]);
      for (const name of ['no.gif', 'no.png', 'no.bmp', 'no.zip', 'no.tiff']) {
        expect(existsSync(at(name)), `${words}: ${name}`).toBe(false);
      }
    }
  });
});
