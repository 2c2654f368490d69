import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { retimeIsoFile } from '@muted-pond/core/containers';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { factsOfMovie } from '../src/media/index.js';
import { type ClipFolder, clipFolder } from './clips.js';

let clips: ClipFolder;
let movie: Buffer;

beforeAll(() => {
  clips = clipFolder();
  movie = readFileSync(
    clips.make(
      'seq.avif',
      ...['-f', 'lavfi', '-i', 'testsrc2=s=64x48:r=5:d=1', '-c:v', 'libaom-av1', '-cpu-used', '8'],
    ),
  );
});
afterAll(() => clips.remove());

/** Version and duration of a header box, as ISO/IEC 14496-12, 8.2.2 and 8.3.2 lay them out. */
function durationIn(bytes: Uint8Array, type: 'tkhd' | 'mvhd'): { version: number; duration: bigint } {
  const file = Buffer.from(bytes);
  const at = file.indexOf(type, 0, 'latin1') + 4;
  const version = file[at];
  const words = type === 'tkhd' ? 2 : 1;
  const duration =
    version === 1
      ? file.readBigUInt64BE(at + 4 + 16 + words * 4)
      : BigInt(file.readUInt32BE(at + 4 + 8 + words * 4));
  return { version, duration };
}

const scaleOf = (bytes: Uint8Array) => {
  const file = Buffer.from(bytes);
  const at = file.indexOf('mvhd', 0, 'latin1') + 4;
  return file.readUInt32BE(at + 4 + (file[at] === 1 ? 16 : 8));
};

it.each([
  [2, 5],
  [65_535, 5],
  [65_535, 120],
])('%i plays of %i s are said in full, whatever that is in ticks', async (plays, seconds) => {
  const made = retimeIsoFile(movie, { seconds: Array.from({ length: 5 }, () => seconds / 5), plays });
  // What was read stays as it was.
  expect(movie.equals(readFileSync(join(clips.path, 'seq.avif')))).toBe(true);
  const wanted = BigInt(plays * seconds * scaleOf(made));
  for (const type of ['tkhd', 'mvhd'] as const) {
    const { version, duration } = durationIn(made, type);
    expect([version, duration]).toEqual([wanted > 0xffff_fffen ? 1 : 0, wanted]);
  }
  // Another reader finds all of its pictures all the same.
  const { frameBytes, size } = await factsOfMovie(made);
  expect([frameBytes.length, size]).toEqual([5, { width: 64, height: 48 }]);
});
