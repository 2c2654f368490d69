import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { newRecipe } from '@muted-pond/core/recipe';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest';
import { readWithSharp } from '../../core/src/testing/independent-readers.js';
import { readDressFlags } from '../src/cli/dress-flags.js';
import { render } from '../src/cli/render.js';
import { type ClipFolder, clipFolder } from './clips.js';

let clips: ClipFolder;
let source: string;
const at = (name: string) => join(clips.path, name);

beforeAll(() => {
  clips = clipFolder();
  // Two seconds of plain teal.
  source = clips.make(
    'teal.mkv',
    ...['-f', 'lavfi', '-i', 'color=c=#207060:s=200x120:r=10:d=2', '-c:v', 'ffv1', '-pix_fmt', 'bgr0'],
  );
});
afterAll(() => clips.remove());

async function run(...flags: string[]): Promise<{ code: number; said: string }> {
  const said: string[] = [];
  const write = vi.spyOn(process.stderr, 'write').mockImplementation((text) => said.push(String(text)) > 0);
  try {
    const all = ['--source', source, '--from', '0', '--fps', '10', '--out', at('out.gif'), ...flags];
    return { code: await render(all), said: said.join('') };
  } finally {
    write.mockRestore();
  }
}

const file = () => readWithSharp(readFileSync(at('out.gif')));
const pixel = (rgba: Uint8Array, width: number, x: number, y: number) => [
  ...rgba.subarray((y * width + x) * 4, (y * width + x) * 4 + 4),
];

describe('dress on the command line', () => {
  it('colours by look and grade', async () => {
    expect((await run('--look', 'wet-slate', '--grade', 'exposure=1,contrast=20')).code).toBe(0);
    const { pictures, width } = await file();
    const [red, green, blue] = pictures.length > 0 ? pixel(pictures[0], width, 50, 50) : [];
    expect([red, green]).toEqual([green, blue]);
    expect(green).toBeGreaterThan(110);
  });

  it('colours by a table of one’s own', async () => {
    writeFileSync(at('turn.cube'), 'LUT_1D_SIZE 2\n1 1 1\n0 0 0\n');
    expect((await run('--lut', at('turn.cube'))).code).toBe(0);
    const { pictures, width } = await file();
    const colour = pixel(pictures[0], width, 50, 50);
    for (const [c, level] of [0x20, 0x70, 0x60].entries()) {
      expect(Math.abs(colour[c] - (255 - level))).toBeLessThanOrEqual(3);
    }
  });

  it('lays words for their time, a border on all frames, and rounds corners', async () => {
    const { code } = await run(
      ...['--caption', 'Tea@middle,30,1-2', '--border', '3,#ff0000', '--corner', '20'],
    );
    expect(code).toBe(0);
    const { pictures, delaysCs, width, height } = await file();
    let from = 0;
    const white: [number, number][] = [];
    for (const [i, rgba] of pictures.entries()) {
      expect(pixel(rgba, width, width >> 1, 1)).toEqual([255, 0, 0, 255]);
      expect(pixel(rgba, width, 0, 0)[3]).toBe(0);
      let count = 0;
      for (let k = 0; k < width * height * 4; k += 4)
        if (Math.min(rgba[k], rgba[k + 1], rgba[k + 2]) > 230) count++;
      white.push([from, count]);
      from += delaysCs[i];
    }
    for (const [begins, count] of white) {
      if (begins < 100) expect(count).toBe(0);
      else expect(count).toBeGreaterThan(100);
    }
  });

  it('lays a picture on at its corner, and hides a part for its time', async () => {
    const sign = await sharp({ create: { width: 20, height: 20, channels: 4, background: '#ffff00' } })
      .png()
      .toBuffer();
    writeFileSync(at('sign.png'), sign);
    const { code } = await run(
      ...['--emblem', `${at('sign.png')}@top-left,20`, '--veil', '100,60,40,30@0-1,plain'],
    );
    expect(code).toBe(0);
    const { pictures, width } = await file();
    expect(pixel(pictures[0], width, 20, 20)).toEqual([255, 255, 0, 255]);
    expect(pixel(pictures[0], width, 120, 75)).toEqual([0, 0, 0, 255]);
    const last = pictures[pictures.length - 1];
    expect(pixel(last, width, 120, 75)[1]).toBeGreaterThan(80);
  });

  it('warns of a part that is hidden on no frame of the loop, and of no other', async () => {
    const veils = ['--veil', '100,60,40,30@0-0.5,plain', '--veil', '100,60,40,30@0-1.5,plain'];
    const { code, said } = await run(...veils, '--from', '1', '--to', '2');
    expect(code).toBe(0);
    expect(said.match(/hides nothing/g)).toHaveLength(1);
    expect((await run('--veil', '100,60,40,30@0-1,plain')).said).not.toContain('hides nothing');
  });

  it('lays subtitles by the footage’s seconds, and says what was left out', async () => {
    writeFileSync(
      at('words.srt'),
      Buffer.from('1\r\n00:00:00,000 --> 00:00:01,000\r\n<i>Caf\xe9</i>\r\n\r\nbroken\r\n', 'latin1'),
    );
    const { code, said } = await run('--subtitles', at('words.srt'));
    expect(code).toBe(0);
    expect(said).toContain('not in UTF-8');
    expect(said).toContain('The entry in line 5 has no times');
  });

  it.each([
    ['--look', 'sparkle', 'wet-slate'],
    ['--look', 'wet-slate:900', '0 to 100'],
    ['--grade', 'glow=3', 'none of exposure'],
    ['--grade', 'exposure=9', 'from -3 to 3'],
    ['--border', '2', 'WIDTH,#rrggbb'],
    ['--border', '2.5,#ffffff', 'whole pixels'],
    ['--corner', 'round', 'whole number'],
    ['--veil', '1,2,3', 'X,Y,WIDTH,HEIGHT'],
    ['--veil', '900,900,10,10,plain', 'beside the picture'],
    ['--veil', '1,1,20,20,sparkle', 'blocks|blur|plain'],
    ['--veil', '1,1,20,20@9-9.5,plain', 'there is no frame'],
    ['--caption', '@top', 'give some words'],
    ['--caption', `${'a'.repeat(600)}`, 'holds 500 letters'],
    ['--emblem', 'nowhere.png', 'does not exist'],
    ['--lut', 'nowhere.cube', 'does not exist'],
    ['--subtitles', 'nowhere.srt', 'does not exist'],
  ])('refuses %s %s in one line, and writes nothing', async (flag, value, told) => {
    const out = at('never.gif');
    const { code, said } = await run('--out', out, flag, value);
    expect(code).toBe(1);
    expect(said).toContain(told);
    expect(said.trim().split('\n')).toHaveLength(1);
    expect(existsSync(out)).toBe(false);
  });

  it('says that what a recipe names lies with the server', async () => {
    const recipe = newRecipe('a'.repeat(64), { starts: [0, 0.1], duration: 0.2 });
    const table = { hash: 'b'.repeat(64), name: 't', strength: 100 };
    const dress = { ...recipe.dress, colour: { ...recipe.dress.colour, table } };
    writeFileSync(at('dressed.json'), JSON.stringify({ ...recipe, dress }));
    const { code, said } = await run('--recipe', at('dressed.json'));
    expect(code).toBe(1);
    expect(said).toContain('lie with the server');
  });

  it('takes what stands behind the last @ only where all of it is understood', () => {
    const [mail, placed] = readDressFlags({
      caption: ['tea@osier.lane', 'a@b@bottom-left,1-2.5,8'],
    }).captions;
    expect(mail).toEqual({ text: 'tea@osier.lane', place: null, size: null, time: null });
    expect(placed).toEqual({ text: 'a@b', place: 'bottom-left', size: 8, time: { from: 1, to: 2.5 } });
    expect(readDressFlags({ caption: ['two\\nlines'] }).captions[0].text).toBe('two\nlines');
  });
});
