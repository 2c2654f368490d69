import { afterAll, beforeAll, expect, it } from 'vitest';
import { decodeKept } from '../src/making/kept-frames.js';
import { decodeFrames, probeHere } from '../src/media/index.js';
import { threadCache } from '../src/threads/index.js';
import { type ClipFolder, clipFolder } from './clips.js';

let clips: ClipFolder;
let path: string;

beforeAll(() => {
  clips = clipFolder();
  path = clips.make(
    'kept.mkv',
    ...['-f', 'lavfi', '-i', 'testsrc2=s=64x36:r=10:d=2', '-pix_fmt', 'bgr0', '-c:v', 'ffv1'],
  );
});

afterAll(() => clips.remove());

it('frames that were read before are the same, in order, with those that were not', async () => {
  const facts = await probeHere(path, 'kept.mkv');
  const request = { path, hash: 'kept', name: 'kept.mkv', facts, size: { width: 64, height: 36 } };
  const truth: Buffer[] = [];
  const all = Array.from({ length: 20 }, (_, i) => i);
  for await (const { data } of decodeFrames({ ...request, frames: all, format: 'rgba' })) {
    truth.push(Buffer.from(data));
  }
  for (const frames of [[3, 4, 9], [0, 3, 5, 9, 19], all, [4]]) {
    const seen: number[] = [];
    for await (const { frame, picture } of decodeKept({ ...request, frames })) {
      seen.push(frame);
      expect(Buffer.compare(picture.rgba, truth[frame])).toBe(0);
    }
    expect(seen).toEqual(frames);
  }
  // Whoever stops early ends the decoder, and the next one starts anew.
  for await (const { frame } of decodeKept({ ...request, size: { width: 32, height: 18 }, frames: all })) {
    if (frame === 2) break;
  }
  let count = 0;
  for await (const _ of decodeKept({ ...request, size: { width: 32, height: 18 }, frames: all })) count++;
  expect(count).toBe(20);
});

it('no more are kept than there is room for, and the first of them', async () => {
  const facts = await probeHere(path, 'kept.mkv');
  threadCache.clear();
  const most = threadCache.maxSize;
  // Twenty-four would fill all that is remembered.
  const large = { width: 640, height: Math.ceil(most / (640 * 4 * 24)) };
  const frames = Array.from({ length: 20 }, (_, i) => i);
  for await (const _ of decodeKept({ path, hash: 'large', name: 'kept.mkv', facts, size: large, frames }));
  expect(threadCache.calculatedSize).toBeLessThanOrEqual(most * 0.75);
  expect(threadCache.size).toBe(Math.floor((most * 0.75) / (large.width * large.height * 4)));
});
