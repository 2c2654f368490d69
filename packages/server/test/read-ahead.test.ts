import { execFileSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { afterAll, afterEach, beforeAll, describe, expect, it } from 'vitest';
import { wholeVideoOf } from '../src/cli/whole-video.js';
import { readAhead, stopReadingAhead, takeFrames, takeHeaders } from '../src/decoder/index.js';
import { type DecodedFrame, decodeFrames, probeHere, type VideoFacts } from '../src/media/index.js';
import {
  type ClipFolder,
  clipFolder,
  NUMBERED_HEIGHT,
  NUMBERED_WIDTH,
  numberedFrames,
  readNumber,
} from './clips.js';

const FRAMES = 40;
const SIZE = { width: NUMBERED_WIDTH, height: NUMBERED_HEIGHT };
const ALL = Array.from({ length: FRAMES }, (_, f) => f);

let clips: ClipFolder;
const paths: Record<string, string> = {};

beforeAll(() => {
  clips = clipFolder();
  const numbered = numberedFrames(FRAMES, 25);
  const make = (name: string, ...args: string[]) => {
    paths[name] = clips.make(name, ...numbered, ...args);
  };
  const x264 = ['-c:v', 'libx264', '-preset', 'fast', '-bf', '3', '-crf', '14'];
  make('709.mp4', ...x264, '-colorspace', 'bt709', '-color_range', 'tv');
  make('601.mp4', ...x264, '-colorspace', 'smpte170m', '-color_range', 'tv');
  make('full.mp4', ...x264, '-colorspace', 'bt709', '-color_range', 'pc');
  make('rgb.mkv', '-c:v', 'ffv1', '-pix_fmt', 'bgr0');
  make('planes.mkv', '-c:v', 'libx264rgb', '-crf', '0', '-pix_fmt', 'bgr24');
  make('alpha.mkv', '-c:v', 'ffv1', '-pix_fmt', 'yuva420p');
  make('deep.mkv', '-c:v', 'ffv1', '-pix_fmt', 'yuv420p10le', '-colorspace', 'bt709');
  const flat = clips.make('flat.mp4', ...numbered, ...x264, '-colorspace', 'bt709');
  const turn = ['-c', 'copy', '-metadata:s:v:0', 'rotate=90'];
  paths['turned.mp4'] = clips.make('turned.mp4', '-i', flat, ...turn);
});

afterEach(() => stopReadingAhead());
afterAll(() => clips.remove());

async function factsOf(path: string): Promise<VideoFacts> {
  const facts = await probeHere(path, 'clip');
  if (facts.reader !== 'ffmpeg') throw new Error('Not a video.');
  return facts;
}

/** A picture as its frame, the number that it shows and all of its bytes in short. */
async function listed(pictures: AsyncIterable<DecodedFrame>, width: number) {
  const list: { frame: number; shows: number; bytes: string }[] = [];
  for await (const { frame, data } of pictures) {
    const bytes = createHash('sha256').update(data).digest('hex');
    list.push({ frame, shows: readNumber(data, 4, width), bytes });
  }
  return list;
}

const decoded = (path: string, facts: VideoFacts, frames: readonly number[], size = SIZE) =>
  listed(decodeFrames({ path, name: 'clip', facts, frames, size, format: 'rgba' }), size.width);
const ahead = (path: string, facts: VideoFacts, frames: readonly number[], size = SIZE) =>
  listed(takeFrames({ path, name: 'clip', facts, frames, size, format: 'rgba' }), size.width);

describe('a video that is read ahead', () => {
  for (const name of ['709.mp4', 'rgb.mkv', 'planes.mkv', 'deep.mkv', 'turned.mp4']) {
    it(`gives all frames as they are given otherwise, to the bit: ${name}`, async () => {
      const facts = await factsOf(paths[name]);
      const size = { width: facts.width, height: facts.height };
      const usual = await decoded(paths[name], facts, ALL, size);
      readAhead(paths[name]);
      const early = await ahead(paths[name], facts, ALL, size);
      expect(early).toHaveLength(FRAMES);
      expect(early).toEqual(usual);
      expect(facts.turn).toBe(name === 'turned.mp4' ? 270 : 0);
    });
  }

  it('gives those that are wanted, where most are', async () => {
    const facts = await factsOf(paths['709.mp4']);
    const wanted = ALL.filter((f) => f % 3 !== 1);
    readAhead(paths['709.mp4']);
    const early = await ahead(paths['709.mp4'], facts, wanted);
    expect(early.map(({ frame }) => frame)).toEqual(wanted);
    expect(early.map(({ shows }) => shows)).toEqual(wanted);
  });

  for (const [why, name, frames, size] of [
    ['only few frames are wanted', '709.mp4', [30, 31], SIZE],
    ['another size is wanted', '709.mp4', ALL, { width: 80, height: 24 }],
    ['its colours are those of BT.601', '601.mp4', ALL, SIZE],
    ['its range is the full one', 'full.mp4', ALL, SIZE],
    ['it is transparent', 'alpha.mkv', ALL, SIZE],
  ] as const) {
    it(`is of no use where ${why}; frames then come as always`, async () => {
      const facts = await factsOf(paths[name]);
      const usual = await decoded(paths[name], facts, frames, size);
      readAhead(paths[name]);
      expect(await ahead(paths[name], facts, frames, size)).toEqual([]);
      readAhead(paths[name]);
      const after = await decoded(paths[name], facts, frames, size);
      expect(after).toHaveLength(frames.length);
      expect(after).toEqual(usual);
    });
  }

  it('is taken up by whoever decodes, once', async () => {
    const facts = await factsOf(paths['709.mp4']);
    readAhead(paths['709.mp4']);
    expect(await decoded(paths['709.mp4'], facts, ALL)).toHaveLength(FRAMES);
    expect(takeHeaders(paths['709.mp4'])).toBeNull();
    expect(await ahead(paths['709.mp4'], facts, ALL)).toEqual([]);
  });

  it('tells the same headers, and says of a file that is none what is always said', async () => {
    const usual = await probeHere(paths['709.mp4'], 'clip');
    readAhead(paths['709.mp4']);
    expect(takeHeaders(paths['709.mp4'])).not.toBeNull();
    expect(await probeHere(paths['709.mp4'], 'clip')).toEqual(usual);
    const none = `${clips.path}/none.mp4`;
    execFileSync('sh', ['-c', `echo nothing > '${none}'`]);
    readAhead(none);
    await expect(probeHere(none, 'none.mp4')).rejects.toThrow('neither a video nor a picture');
  });

  it('of a file that breaks off gives what it has; the rest is asked for as always', async () => {
    const facts = await factsOf(paths['rgb.mkv']);
    const cut = `${clips.path}/cut.mkv`;
    execFileSync('sh', [
      '-c',
      `head -c $(($(wc -c < '${paths['rgb.mkv']}') / 2)) '${paths['rgb.mkv']}' > '${cut}'`,
    ]);
    readAhead(cut);
    const early = await ahead(cut, facts, ALL);
    expect(early.length).toBeGreaterThan(5);
    expect(early.length).toBeLessThan(FRAMES);
    expect(early.map(({ shows }) => shows)).toEqual(ALL.slice(0, early.length));
    readAhead(cut);
    await expect(decoded(cut, facts, ALL)).rejects.toThrow('gives no picture for frame');
  });
});

describe('what the command line begins to read', () => {
  it('is the one video that it takes as a whole', () => {
    expect(wholeVideoOf(['--source', 'a.mp4', '--width', '480', '--out', 'b.gif'])).toBe('a.mp4');
    for (const args of [
      ['--source', 'a.mp4', '--from', '1'],
      ['--source', 'a.mp4', '--to=3'],
      ['--source', 'a.mp4', '--recipe', 'r.json'],
      ['--source', 'a.mp4', '--auto-loop'],
      ['--source', 'a.png', '--source', 'b.png'],
      ['--source', 'a.GIF'],
      ['--out', 'b.gif'],
      ['--source'],
    ]) {
      expect(wholeVideoOf(args)).toBeNull();
    }
  });
});
