import { execFileSync } from 'node:child_process';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { decodeFrames, probeHere } from '../src/media/index.js';
import { type ClipFolder, clipFolder } from './clips.js';

/** Half of it is odd on both sides: colour differences do not come out even, nor do pixels by fours. */
const SIZE = { width: 162, height: 98 };
const HALF = { width: 81, height: 49 };

let clips: ClipFolder;
beforeAll(() => {
  clips = clipFolder();
});
afterAll(() => clips.remove());

function noisy(name: string, format: string, ...codec: string[]): string {
  const { width, height } = SIZE;
  return clips.make(
    name,
    ...['-f', 'lavfi', '-i', `testsrc2=s=${width}x${height}:r=10:d=0.3`],
    ...['-vf', `noise=alls=24:allf=t:all_seed=5,format=${format}`],
    ...codec,
  );
}

/** What ffmpeg itself gives as RGBA, with the filters that the colours of a file ask for. */
function asFfmpegGives(path: string, scale: string): Buffer {
  return execFileSync('ffmpeg', [
    ...['-v', 'error', '-i', path, '-fps_mode', 'passthrough'],
    ...['-vf', `scale=${scale}+accurate_rnd+full_chroma_int+full_chroma_inp`],
    ...['-pix_fmt', 'rgba', '-f', 'rawvideo', '-'],
  ]);
}

async function decoded(path: string, size: typeof SIZE): Promise<Buffer> {
  const facts = await probeHere(path, 'clip');
  const pictures: Buffer[] = [];
  const request = { path, name: 'clip', facts, frames: [0, 1, 2], size, format: 'rgba' as const };
  for await (const { data } of decodeFrames(request)) pictures.push(data);
  expect(new Set(pictures.map(({ buffer }) => buffer)).size, 'each has memory of its own').toBe(3);
  return Buffer.concat(pictures);
}

describe('pictures that the decoder hands over', () => {
  const ffv1 = ['-c:v', 'ffv1', '-colorspace', 'bt709', '-color_range', 'tv'];
  for (const format of ['yuv420p', 'yuv422p', 'yuv444p', 'yuv420p10le', 'yuv444p12le', 'bgr0', 'gray']) {
    it(`are RGBA to the bit, however they are handed over: ${format}`, async () => {
      const path = noisy(`${format}.mkv`, format, ...ffv1);
      const colours = format === 'bgr0' ? '' : 'in_color_matrix=bt709:in_range=tv:';
      const whole = asFfmpegGives(path, `${colours}flags=bicubic`);
      expect(whole).toHaveLength(3 * SIZE.width * SIZE.height * 4);
      expect(Buffer.compare(await decoded(path, SIZE), whole)).toBe(0);
      const smaller = `w=${HALF.width}:h=${HALF.height}:${colours}flags=area`;
      expect(Buffer.compare(await decoded(path, HALF), asFfmpegGives(path, smaller))).toBe(0);
    });
  }

  it('keep their alpha', async () => {
    const path = clips.make(
      'clear.mkv',
      ...['-f', 'lavfi', '-i', `color=c=red@0.5:s=${SIZE.width}x${SIZE.height}:r=10:d=0.3,format=yuva444p`],
      ...['-c:v', 'ffv1'],
    );
    const pixels = await decoded(path, SIZE);
    expect(new Set(pixels.filter((_, at) => at % 4 === 3))).toEqual(new Set([127]));
  });
});
