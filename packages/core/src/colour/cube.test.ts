import { execFileSync } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { describe, expect, it } from 'vitest';
import type { PixelFrame } from '../pixels/index.js';
import { noiseFrame } from '../testing/pictures.js';
import { seeded } from '../testing/seeded.js';
import {
  type Colour,
  createPlainColour,
  cubeFunction,
  foldSettings,
  LOOKS,
  lookFunction,
  readCube,
  writeCube,
} from './index.js';

/** What ffmpeg makes of a picture with a table. */
function withFfmpeg(frame: PixelFrame, cube: string, filter: string): Uint8Array {
  const folder = mkdtempSync(join(tmpdir(), 'muted-pond-cube-'));
  try {
    const path = join(folder, 'it.cube');
    writeFileSync(path, cube);
    const rgb = Uint8Array.from({ length: frame.width * frame.height * 3 }, (_, i) => {
      return frame.rgba[Math.floor(i / 3) * 4 + (i % 3)];
    });
    const raw = execFileSync(
      'ffmpeg',
      [
        ...['-v', 'error', '-f', 'rawvideo', '-pix_fmt', 'rgb24', '-s', `${frame.width}x${frame.height}`],
        ...[
          '-i',
          '-',
          '-vf',
          `${filter}=file=${path}:interp=${filter === 'lut3d' ? 'tetrahedral' : 'linear'}`,
        ],
        ...['-f', 'rawvideo', '-pix_fmt', 'rgb24', '-'],
      ],
      { input: rgb, maxBuffer: 1 << 28 },
    );
    return new Uint8Array(raw);
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
}

/** A smooth made-up table: colours bend and mix. */
function smoothCube(size: number, seed: number): string {
  const random = seeded(seed);
  const bends = [0, 1, 2].map(() => 0.6 + random() * 0.9);
  const leak = random() * 0.2;
  const lines = [`LUT_3D_SIZE ${size}`];
  const last = size - 1;
  for (let b = 0; b < size; b++) {
    for (let g = 0; g < size; g++) {
      for (let r = 0; r < size; r++) {
        const red = (r / last) ** bends[0] * (1 - leak) + (leak * g) / last;
        lines.push(
          `${red.toFixed(6)} ${((g / last) ** bends[1]).toFixed(6)} ${((b / last) ** bends[2]).toFixed(6)}`,
        );
      }
    }
  }
  return lines.join('\n');
}

function worstAgainst(made: PixelFrame, others: Uint8Array): number {
  let worst = 0;
  for (let p = 0; p < made.width * made.height; p++) {
    for (let c = 0; c < 3; c++) worst = Math.max(worst, Math.abs(made.rgba[p * 4 + c] - others[p * 3 + c]));
  }
  return worst;
}

describe('a colour table', () => {
  it('of 17 to 65 steps colours as ffmpeg’s lut3d does, to a level', () => {
    for (const size of [17, 33, 65]) {
      const text = smoothCube(size, size);
      const cube = readCube(text);
      const frame = noiseFrame(96, 64, seeded(size));
      const colour = createPlainColour(foldSettings(cubeFunction(cube), { cube, isDraft: false }));
      expect(worstAgainst(colour(frame), withFfmpeg(frame, text, 'lut3d')), `${size}³`).toBeLessThanOrEqual(
        1,
      );
    }
  });

  it('of one dimension colours as ffmpeg’s lut1d does, to a level', () => {
    const lines = Array.from({ length: 64 }, (_, i) => {
      const at = i / 63;
      return `${(at ** 0.8).toFixed(6)} ${(1 - at).toFixed(6)} ${(at ** 1.5).toFixed(6)}`;
    });
    const text = ['LUT_1D_SIZE 64', ...lines].join('\n');
    const cube = readCube(text);
    const frame = noiseFrame(96, 64, seeded(5));
    const colour = createPlainColour(foldSettings(cubeFunction(cube), { cube, isDraft: false }));
    expect(worstAgainst(colour(frame), withFfmpeg(frame, text, 'lut1d'))).toBeLessThanOrEqual(1);
  });

  it('that is written from a look is read as that look, here and by ffmpeg', () => {
    const look = lookFunction(LOOKS['dusk-water']);
    const text = writeCube(look, 'Dusk "water"');
    const cube = readCube(text);
    expect(cube.title).toBe('Dusk  water ');
    const frame = noiseFrame(64, 64, seeded(6));
    const colour = createPlainColour(foldSettings(look, { cube: null, isDraft: false }));
    expect(worstAgainst(colour(frame), withFfmpeg(frame, text, 'lut3d'))).toBeLessThanOrEqual(3);
    const one: Colour = Float64Array.from([0.25, 0.5, 0.75]);
    const other = one.slice();
    cubeFunction(cube)(one);
    look(other);
    for (let c = 0; c < 3; c++) expect(one[c]).toBeCloseTo(Math.max(0, Math.min(1, other[c])), 2);
  });

  it('may have a domain, a title, comments and a byte order mark', () => {
    const lines = Array.from({ length: 17 ** 3 }, () => '0.5 0.25 1');
    const text = `\ufeff# made up\r\nTITLE "Tea"\r\nDOMAIN_MIN 0 0 0\r\nDOMAIN_MAX 2 2 2\r\nLUT_3D_SIZE 17\r\n\r\n${lines.join('\r\n')}\r\n`;
    expect(readCube(text)).toMatchObject({
      title: 'Tea',
      dimensions: 3,
      size: 17,
      domain: { max: [2, 2, 2] },
    });
  });

  const body = (count: number) => Array.from({ length: count }, () => '0 0 0').join('\n');
  it.each([
    ['no size at all', '0 0 0\n', 'line 1'],
    ['nothing in it', '', 'does not say how large'],
    ['too small a size', 'LUT_3D_SIZE 4\n', '“4”; 17 to 65 can be read; in line 1'],
    ['too large a size', 'LUT_3D_SIZE 129\n', 'line 1'],
    ['a size that is none', 'LUT_3D_SIZE many\n', 'line 1'],
    ['two sizes', 'LUT_3D_SIZE 17\nLUT_1D_SIZE 17\n', 'a second time in line 2'],
    ['a colour of two numbers', 'LUT_3D_SIZE 17\n0 0\n', 'line 2'],
    ['a colour that is no number', 'LUT_3D_SIZE 17\n0 0 0\nNaN 0 0\n', 'line 3'],
    ['an endless colour', 'LUT_3D_SIZE 17\n0 inf 0\n', 'line 2'],
    ['a huge colour', 'LUT_3D_SIZE 17\n0 1e30 0\n', 'line 2'],
    ['an unknown word', 'LUT_3D_SIZE 17\nSPARKLE 3\n', '“SPARKLE” in line 2'],
    ['too few colours', `LUT_3D_SIZE 17\n${body(100)}`, 'ends after 100 of its 4913'],
    ['too many colours', `LUT_3D_SIZE 17\n${body(4914)}`, 'line 4915'],
    ['a domain that is turned', `DOMAIN_MAX 0 0 0\nLUT_3D_SIZE 17\n${body(4913)}`, 'domain'],
    ['far too many bytes', ' '.repeat(25 * 1024 * 1024), '25 MB'],
  ])('with %s is refused, and it is told why', (_, text, told) => {
    expect(() => readCube(text)).toThrow(told);
    expect(() => readCube(text)).toThrow('Save it anew');
  });
});
