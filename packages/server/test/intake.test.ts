import { readFile, rm } from 'node:fs/promises';
import { request } from 'node:http';
import { join } from 'node:path';
import type { FootageTimes, PieceView } from '@muted-pond/core/api';
import { footagePath } from '@muted-pond/core/identity';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { cleanName } from '../src/footage/clean-name.js';
import { Problem, toProblem } from '../src/problems/index.js';
import { startApp, type TestApp } from './app.js';
import { type ClipFolder, clipFolder, NUMBERED_WIDTH, numberedFrames, readNumber } from './clips.js';

let app: TestApp;
let clips: ClipFolder;
let clip: Buffer;

beforeAll(async () => {
  app = await startApp({ mostUploadBytes: 3_000_000 });
  clips = clipFolder();
  clip = await readFile(clips.make('good.mp4', ...numberedFrames(60, 30), '-c:v', 'libx264', '-crf', '14'));
});

afterAll(async () => {
  clips.remove();
  await app.stop();
});

describe('footage in', () => {
  it('is hashed, probed, stored once, and shown frame by frame', async () => {
    const first = await app.upload('good.mp4', clip);
    expect(first.status).toBe(201);
    expect(first.body).toMatchObject({
      frameCount: 60,
      width: NUMBERED_WIDTH,
      frameRate: 30,
      variableRate: false,
      codec: 'h264',
    });
    const again = await app.upload('the same.mp4', clip);
    expect(again.body.id).toBe(first.body.id);
    expect((await app.keptFiles()).filter((path) => path.includes('/blobs/'))).toHaveLength(1);

    const times = await app.ask<FootageTimes>('GET', `footage/${first.body.id}/times`);
    expect(times.body.starts).toHaveLength(60);
    expect(times.body.duration).toBeCloseTo(2, 3);
    for (const frame of [59, 0, 31, 30, 7]) {
      const response = await fetch(`${app.url}/api/footage/${footagePath(first.body.id, 'frames', frame)}`);
      expect(response.headers.get('cache-control')).toContain('immutable');
      const { data, info } = await sharp(await response.arrayBuffer())
        .raw()
        .toBuffer({ resolveWithObject: true });
      expect(readNumber(data, info.channels, info.width)).toBe(frame);
    }
  });

  it('is kept by browsers for ever only under the version of what is made of it', async () => {
    const { body } = await app.upload('a clip.mp4', clip);
    const caching = async (path: string) => {
      const { status, headers } = await fetch(`${app.url}/api/footage/${path}`);
      return [status, headers.get('cache-control')?.includes('immutable') ?? false];
    };
    const paths = [
      footagePath(body.id, 'times'),
      ...(['frames', 'small', 'full'] as const).map((of) => footagePath(body.id, of, 3)),
      `${footagePath(body.id, 'motion')}&from=0&to=10`,
    ];
    for (const path of paths) {
      expect(await caching(path), path).toEqual([200, true]);
      expect(await caching(path.replace(/v=\d+/, 'v=0')), path).toEqual([200, false]);
      expect(await caching(path.replace(/v=\d+/, '')), path).toEqual([200, false]);
    }
    // What was refused may be there another time.
    expect(await caching(footagePath(body.id, 'frames', 60))).toEqual([404, false]);
  });

  it('has a strip: at once from the key frames, then each frame itself', async () => {
    const looked = app.event((event) => event.type === 'footage' && event.strip.made === event.strip.count);
    const other = await readFile(
      clips.make('keys.mp4', ...numberedFrames(96, 24), '-c:v', 'libx264', '-g', '12', '-crf', '14'),
    );
    const { body } = await app.upload('keys.mp4', other);
    expect(await looked).toMatchObject({ footage: body.id, strip: { count: 48, made: 48 } });
    const numberAt = async (path: string) => {
      const response = await fetch(`${app.url}/api/footage/${body.id}/${path}`);
      const picture = sharp(await response.arrayBuffer()).raw();
      const { data, info } = await picture.toBuffer({ resolveWithObject: true });
      return readNumber(data, info.channels, info.width);
    };
    for (const place of [0, 20, 47]) {
      const frame = Math.floor(((place + 0.5) * 96) / 48);
      const shown = await numberAt(`strip/${place}`);
      expect(shown).toBeLessThanOrEqual(frame);
      expect(frame - shown).toBeLessThan(12);
    }
    const asked = [0, 37, 95, 60, 61];
    expect(await Promise.all(asked.map((frame) => numberAt(`small/${frame}`)))).toEqual(asked);
    expect((await app.ask('GET', `footage/${body.id}/small/96`)).status).toBe(404);
    expect((await app.ask('GET', `footage/${body.id}/small/-1`)).status).toBe(400);
  });

  it('makes a strip again when the cache is thrown away while the server runs', async () => {
    const stripIsWhole = () => app.event((event) => event.type === 'footage' && event.strip.made === 48);
    const first = stripIsWhole();
    const { body } = await app.upload('keys.mp4', await readFile(join(clips.path, 'keys.mp4')));
    const url = `${app.url}/api/footage/${body.id}/strip/20`;
    await first;
    expect((await fetch(url)).status).toBe(200);
    // Frames and activity may still be written into it.
    await rm(join(app.dataDir, 'cache'), { recursive: true, force: true, maxRetries: 20, retryDelay: 50 });
    const again = stripIsWhole();
    expect((await fetch(url)).status).toBe(404);
    await again;
    expect((await fetch(url)).status).toBe(200);
  });

  it('tells what moves from frame to frame', async () => {
    const moves = clips.make(
      'mover.mp4',
      ...['-f', 'lavfi', '-i', 'nullsrc=s=320x180:r=25:d=2', '-vf'],
      "format=yuv420p,geq=lum='if(between(X-clip((T-0.8)*400\\,0\\,160)\\,40\\,90)*between(Y\\,60\\,110)\\,235\\,80)':cb=128:cr=128",
      ...['-c:v', 'libx264', '-crf', '14'],
    );
    const known = app.event((event) => event.type === 'activity' && event.frames === 50);
    const { body } = await app.upload('mover.mp4', await readFile(moves));
    await known;
    const response = await fetch(`${app.url}/api/footage/${body.id}/activity`);
    const figures = new Float32Array(await response.arrayBuffer());
    expect(figures).toHaveLength(50 * 4);
    const movesAt = (frame: number) => figures[frame * 4];
    expect(movesAt(10)).toBeLessThan(0.05);
    expect(movesAt(25)).toBeGreaterThan(0.5);
    expect(movesAt(45)).toBeLessThan(0.05);
    expect(Math.hypot(figures[25 * 4 + 1], figures[25 * 4 + 2])).toBeLessThan(0.5);
  });

  it('says which frames there are when another is asked for', async () => {
    const { body } = await app.upload('good.mp4', clip);
    const beyond = await app.ask('GET', `footage/${body.id}/frames/60`);
    expect(beyond).toMatchObject({ status: 404, type: expect.stringContaining('application/problem+json') });
    expect(beyond.body).toMatchObject({ title: expect.stringContaining('frames 0 to 59') });
  });
});

describe('bad input gets a sentence and leaves nothing', () => {
  const text = (words: string) => Buffer.from(words);
  const soundOnly = () => clips.make('sound.mp4', '-f', 'lavfi', '-i', 'sine=d=1', '-c:a', 'aac');

  it.each<[string, () => Promise<Uint8Array> | Uint8Array, string, RegExp]>([
    ['empty.mp4', () => Buffer.alloc(0), 'empty_file', /“empty.mp4” is empty/],
    [
      'letter.mp4',
      () => text('Dear Osier Lane, …'),
      'not_a_video',
      /“letter.mp4” is neither a video nor a picture/,
    ],
    [
      'list.m3u8',
      () => text('#EXTM3U\n#EXTINF:1,\nfile:///etc/passwd\n'),
      'names_other_files',
      /names other files/,
    ],
    [
      'list.mp4',
      () => text("ffconcat version 1.0\nfile '/etc/passwd'\n"),
      'names_other_files',
      /names other files/,
    ],
    [
      'drawing.mp4',
      () => text('<svg xmlns="http://www.w3.org/2000/svg"/>'),
      'a_drawing',
      /is a drawing \(SVG\)/,
    ],
    ['song.mp4', () => readFile(soundOnly()), 'no_picture', /sound but no moving picture/],
    ['cut.mp4', () => clip.subarray(0, clip.length >> 1), 'cut_short', /“cut.mp4” is cut short/],
  ])('%s', async (name, bytes, code, sentence) => {
    const before = await app.keptFiles();
    const { status, body } = await app.upload(name, await bytes());
    expect(status).toBe(422);
    expect(body.code).toBe(code);
    expect(body.title).toMatch(sentence);
    expect(await app.keptFiles()).toEqual(before);
    expect((await app.ask('GET', 'pieces')).status).toBe(200);
  });

  it('more pixels than the limit', async () => {
    const path = clips.make(
      'huge.mkv',
      '-f',
      'lavfi',
      '-i',
      'color=s=9000x4400:r=1:d=1',
      '-c:v',
      'ffv1',
      '-pix_fmt',
      'gray',
    );
    const { status, body } = await app.upload('huge.mkv', await readFile(path));
    expect([status, body.code]).toEqual([422, 'too_many_pixels']);
    expect(body.title).toMatch(/“huge.mkv” claims pictures/);
  });

  it('larger than may be taken', async () => {
    const { status, body } = await app.upload('long.mp4', new Uint8Array(3_000_001));
    expect([status, body.code]).toEqual([413, 'too_large']);
    expect((await app.keptFiles()).some((path) => path.includes('/incoming/'))).toBe(false);
  });

  it('an upload that is broken off half-way', async () => {
    const before = await app.keptFiles();
    await new Promise<void>((resolve) => {
      const sending = request(`${app.url}/api/footage?name=half.mp4`, {
        method: 'POST',
        headers: { 'content-length': String(clip.length), 'content-type': 'application/octet-stream' },
      });
      sending.on('error', () => resolve());
      sending.write(clip.subarray(0, 1000), () => sending.destroy());
    });
    await expect.poll(() => app.keptFiles()).toEqual(before);
    expect((await app.upload('good.mp4', clip)).status).toBe(201);
  });

  it.each(['名前 <b>"x"</b>.mp4', '../../etc/passwd', 'a\u0000b\n.mp4', `${'x'.repeat(500)}.mp4`, ' '])(
    'a name with odd characters: %j',
    async (name) => {
      const { status, body } = await app.upload(name, clip);
      expect(status).toBe(201);
      expect(body.name.length).toBeGreaterThan(0);
      const piece = await app.ask<PieceView>('POST', 'pieces', { footage: body.id });
      expect(piece.status).toBe(201);
      for (const bad of ['/', '\\', '\n', '\0']) expect(cleanName(name)).not.toContain(bad);
      expect(cleanName(name).length).toBeLessThanOrEqual(200);
    },
  );

  it('a full disk is told as such', () => {
    const full = Object.assign(new Error('write ENOSPC'), { code: 'ENOSPC' });
    expect(toProblem(full)).toMatchObject({
      status: 507,
      code: 'disk_full',
      message: expect.stringContaining('Free some space'),
    });
    expect(toProblem(new Problem(404, 'not_found', 'y'))).toMatchObject({ status: 404 });
    expect(toProblem(new Error('secret path'))).toMatchObject({
      status: 500,
      message: expect.not.stringContaining('secret'),
    });
  });

  it('requests that are not what they should be name the field', async () => {
    const wrong = await app.ask<{ title: string }>('POST', 'pieces', { footage: 'x', extra: 1 });
    expect(wrong.status).toBe(400);
    expect(wrong.body.title).toMatch(/footage/);
    expect((await app.ask('GET', 'pieces/nobody')).status).toBe(404);
  });
});
