import { execFileSync } from 'node:child_process';
import { existsSync, readdirSync, rmSync } from 'node:fs';
import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import type { FootageView } from '@muted-pond/core/api';
import { footageKey, footagePath } from '@muted-pond/core/identity';
import { lookBytes, lookSize } from '@muted-pond/core/loop';
import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest';
import { startApp, type TestApp } from './app.js';
import {
  type ClipFolder,
  clipFolder,
  NUMBERED_HEIGHT,
  NUMBERED_WIDTH,
  numberedFrames,
  readNumber,
} from './clips.js';

/** More than two parts of the cache. */
const FRAMES = 150;
const SIZE = { width: 2 * NUMBERED_WIDTH, height: 2 * NUMBERED_HEIGHT };
const LOOK = lookSize(SIZE);
const BYTES = lookBytes(LOOK);

let app: TestApp;
let clips: ClipFolder;
let path: string;
let footage: FootageView;

beforeAll(async () => {
  app = await startApp();
  clips = clipFolder();
  const drawn = numberedFrames(FRAMES, 25);
  const scaled = drawn.map((part, i) =>
    drawn[i - 1] === '-vf' ? `${part},scale=iw*2:ih*2:flags=neighbor` : part,
  );
  path = clips.make('numbers.mp4', ...scaled, '-c:v', 'libx264', '-crf', '10', '-g', '40');
  footage = (await app.upload('numbers.mp4', await readFile(path))).body;
});

afterAll(async () => {
  clips.remove();
  await app.stop();
});

const ask = (from: number, to: number) =>
  fetch(`${app.url}/api/footage/${footagePath(footage.id, 'looks', from, to)}`);
const looks = async (from: number, to: number) => new Uint8Array(await (await ask(from, to)).arrayBuffer());
const folder = () => join(app.dataDir, 'cache', footage.id, footageKey('looks'));

describe('looks of footage', () => {
  it('are those of their frames, over the bounds of what is kept together', async () => {
    for (const [from, to] of [
      [0, 3],
      [60, 70],
      [62, 130],
      [149, 150],
    ]) {
      const bytes = await looks(from, to);
      expect(bytes).toHaveLength((to - from) * BYTES);
      for (let frame = from; frame < to; frame++) {
        expect(readNumber(bytes.subarray((frame - from) * BYTES), 1, LOOK.width)).toBe(frame);
      }
    }
  });

  it('are as an independent reader sees the picture in small', async () => {
    const frame = 77;
    const look = await looks(frame, frame + 1);
    const grey = execFileSync('ffmpeg', [
      ...[
        '-v',
        'error',
        '-i',
        path,
        '-vf',
        `select=eq(n\\,${frame}),scale=${LOOK.width}:${LOOK.height}:flags=area`,
      ],
      ...['-frames:v', '1', '-f', 'rawvideo', '-pix_fmt', 'gray', '-'],
    ]);
    let off = 0;
    for (let p = 0; p < grey.length; p++) off += Math.abs(grey[p] - look[p]) / grey.length;
    expect(off).toBeLessThan(3);
  });

  it('come with the signatures of the footage, and are made again where they were thrown away', async () => {
    await vi.waitUntil(async () => {
      const known = await fetch(`${app.url}/api/footage/${footage.id}/signatures?from=0&to=2`);
      return (await known.arrayBuffer()).byteLength > 0;
    }, 20_000);
    expect(readdirSync(folder()).sort()).toEqual(['0', '1', '2']);
    const before = await looks(50, 140);
    rmSync(folder(), { recursive: true });
    expect(Buffer.compare(await looks(50, 140), before)).toBe(0);
    expect(existsSync(join(folder(), '2'))).toBe(true);
  });

  it('may be kept by browsers, and are refused for frames that are not there', async () => {
    const kept = await ask(0, 4);
    expect((await kept.arrayBuffer()).byteLength).toBe(4 * BYTES);
    expect(kept.headers.get('cache-control')).toContain('immutable');
    for (const [from, to] of [
      [-1, 4],
      [4, 4],
      [9, 3],
      [140, 151],
      [0, 600],
    ]) {
      const answer = await ask(from, to);
      expect([from, to, answer.status]).toEqual([from, to, 422]);
      expect(((await answer.json()) as { title: string }).title).toContain('from 0 to 150');
    }
    const refused = (path: string) => app.ask('GET', `footage/${path}`);
    expect((await refused(`${'0'.repeat(64)}/looks/0/4`)).status).toBe(404);
    expect((await refused(`${footage.id}/looks/a/4`)).status).toBe(400);
  });
});
