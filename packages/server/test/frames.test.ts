import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { seeded, wholeFrom } from '../../core/src/testing/seeded.js';
import { decodeFrames, frameTimes, probeHere } from '../src/media/index.js';
import {
  type ClipFolder,
  clipFolder,
  NUMBERED_HEIGHT,
  NUMBERED_WIDTH,
  numberedFrames,
  readNumber,
} from './clips.js';

const FRAMES = 300;
const SIZE = { width: NUMBERED_WIDTH, height: NUMBERED_HEIGHT };

let clips: ClipFolder;
const paths: Record<string, string> = {};

beforeAll(() => {
  clips = clipFolder();
  const numbered = numberedFrames(FRAMES, 25);
  const x264 = ['-c:v', 'libx264', '-preset', 'fast', '-bf', '3', '-g', '60', '-crf', '12'];
  paths['H.264 with B-frames'] = clips.make('b.mp4', ...numbered, ...x264);
  paths['H.264, open groups, Matroska'] = clips.make(
    'open.mkv',
    ...numbered,
    ...x264,
    '-x264-params',
    'open-gop=1',
  );
  paths.VP9 = clips.make(
    'v.webm',
    ...numbered,
    '-c:v',
    'libvpx-vp9',
    '-b:v',
    '0',
    '-crf',
    '12',
    '-cpu-used',
    '8',
    '-g',
    '70',
  );
  paths['MPEG-4 in AVI'] = clips.make('m.avi', ...numbered, '-c:v', 'mpeg4', '-q:v', '2', '-g', '50');
  const uneven = "settb=1/12800,setpts='(N+2*sin(N/5)*sin(N/5))/25/TB+floor(N/40)*0.3/TB'";
  const varying = numbered.map((word) => (word.startsWith('format=') ? `${word},${uneven}` : word));
  paths['H.264, variable rate'] = clips.make(
    'vfr.mp4',
    ...varying,
    '-fps_mode',
    'vfr',
    '-enc_time_base',
    '1/12800',
    ...x264,
  );
  paths['VP9, variable rate'] = clips.make(
    ...([
      'vfr.webm',
      ...varying,
      '-fps_mode',
      'vfr',
      '-enc_time_base',
      '1/1000',
      '-c:v',
      'libvpx-vp9',
      '-b:v',
      '0',
      '-crf',
      '12',
    ] as [string, ...string[]]),
    ...['-cpu-used', '8'],
  );
});

afterAll(() => clips.remove());

describe('frame n is frame n of the file', () => {
  it.each([
    'H.264 with B-frames',
    'H.264, open groups, Matroska',
    'VP9',
    'MPEG-4 in AVI',
    'H.264, variable rate',
    'VP9, variable rate',
  ])('%s: sought at 40 random places, one by one and in runs (seed 12)', async (kind) => {
    const path = paths[kind];
    const facts = await probeHere(path, kind);
    expect(facts.ticks).toHaveLength(FRAMES);
    const random = seeded(12);
    for (let i = 0; i < 40; i++) {
      const first = wholeFrom(random, 0, FRAMES - 1);
      const step = wholeFrom(random, 1, 9);
      const frames = Array.from({ length: wholeFrom(random, 1, 4) }, (_, k) => first + k * step).filter(
        (f) => f < FRAMES,
      );
      const seen: number[] = [];
      for await (const { frame, data } of decodeFrames({
        path,
        name: kind,
        facts,
        frames,
        size: SIZE,
        format: 'rgba',
      })) {
        expect(readNumber(data, 4, SIZE.width), `${kind}, frame ${frame}`).toBe(frame);
        seen.push(frame);
      }
      expect(seen).toEqual(frames);
    }
  });

  it('keeps the file’s own times where the rate varies', async () => {
    const times = frameTimes(await probeHere(paths['H.264, variable rate'], 'it'));
    const steps = Array.from(times.starts)
      .slice(1)
      .map((start, i) => start - times.starts[i]);
    expect(Math.max(...steps)).toBeGreaterThan(Math.min(...steps) * 1.5);
    const wanted = (n: number) => (n + 2 * Math.sin(n / 5) ** 2) / 25 + Math.floor(n / 40) * 0.3;
    for (const n of [0, 1, 39, 40, 123, 299]) expect(times.starts[n]).toBeCloseTo(wanted(n) - wanted(0), 3);
  });

  it('is so for the eye too, where frames lie closer than the mean rate', async () => {
    const path = paths['H.264, variable rate'];
    const facts = await probeHere(path, 'it');
    for (const first of [0, 37, 190]) {
      const frames = Array.from({ length: 40 }, (_, i) => first + i);
      const seen: number[] = [];
      for await (const { data } of decodeFrames({
        path,
        name: 'it',
        facts,
        frames,
        size: SIZE,
        format: 'view',
      })) {
        const { data: pixels, info } = await sharp(data).raw().toBuffer({ resolveWithObject: true });
        seen.push(readNumber(pixels, info.channels, SIZE.width));
      }
      expect(seen).toEqual(frames);
    }
  });

  it('stops at once when it is told to', async () => {
    const path = paths.VP9;
    const facts = await probeHere(path, 'it');
    const abort = new AbortController();
    const frames = Array.from({ length: FRAMES }, (_, i) => i);
    let seen = 0;
    for await (const _ of decodeFrames({
      path,
      name: 'it',
      facts,
      frames,
      size: SIZE,
      format: 'rgba',
      signal: abort.signal,
    })) {
      if (++seen === 3) abort.abort();
    }
    expect(seen).toBeLessThan(FRAMES);
  });
});

describe('colours', () => {
  it.each([
    ['bt709', 'tv'],
    ['bt709', 'pc'],
    ['smpte170m', 'tv'],
  ])('of %s, range %s are those that were put in', async (matrix, range) => {
    const path = clips.make(
      `colour-${matrix}-${range}.mp4`,
      ...['-f', 'lavfi', '-i', 'color=c=0xc8503c:s=160x96:r=10:d=0.5'],
      ...['-vf', `scale=out_color_matrix=${matrix}:out_range=${range},format=yuv444p`],
      ...['-c:v', 'libx264', '-crf', '4', '-colorspace', matrix, '-color_range', range],
    );
    const facts = await probeHere(path, 'it');
    const size = { width: 160, height: 96 };
    for await (const { data } of decodeFrames({
      path,
      name: 'it',
      facts,
      frames: [2],
      size,
      format: 'rgba',
    })) {
      for (const [c, wanted] of [0xc8, 0x50, 0x3c].entries())
        expect(Math.abs(data[c] - wanted)).toBeLessThanOrEqual(3);
    }
  });

  it('of a turned clip stand upright', async () => {
    const flat = clips.make(
      'lying.mp4',
      ...['-f', 'lavfi', '-i', 'testsrc2=s=128x72:r=10:d=0.5', '-c:v', 'libx264'],
    );
    const path = turnedCopy(flat);
    const turned = await probeHere(path, 'it');
    expect([turned.width, turned.height]).toEqual([72, 128]);
    const size = { width: 72, height: 128 };
    for await (const { data } of decodeFrames({
      path,
      name: 'it',
      facts: turned,
      frames: [0],
      size,
      format: 'rgba',
    })) {
      expect(data).toHaveLength(72 * 128 * 4);
    }
  });
});

/** A copy that is to be shown turned by a quarter; newer ffmpeg takes a flag, older ones a tag. */
function turnedCopy(flat: string): string {
  try {
    return clips.make('turned.mp4', '-display_rotation', '90', '-i', flat, '-c', 'copy');
  } catch {
    return clips.make('turned.mp4', '-i', flat, '-c', 'copy', '-metadata:s:v:0', 'rotate=90');
  }
}
