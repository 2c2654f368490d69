import { readFile } from 'node:fs/promises';
import { request } from 'node:http';
import type { FootageTimes, FootageView, PieceView } from '@muted-pond/core/api';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { cleanName } from '../src/footage/footage.controller.js';
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
      const response = await fetch(`${app.url}/api/footage/${first.body.id}/frames/${frame}`);
      expect(response.headers.get('cache-control')).toContain('immutable');
      const { data, info } = await sharp(await response.arrayBuffer())
        .raw()
        .toBuffer({ resolveWithObject: true });
      expect(readNumber(data, info.channels, info.width)).toBe(frame);
    }
  });

  it('has a strip whose pictures are those of their places', async () => {
    const { body } = await app.upload('good.mp4', clip);
    let view = body as FootageView;
    if (view.strip.exact < view.strip.count) {
      await app.event(
        (event) =>
          event.type === 'footage' && event.footage === body.id && event.strip.exact === event.strip.count,
      );
      view = (await app.ask<FootageView>('GET', `footage/${body.id}`)).body;
    }
    expect(view.strip).toEqual({ count: 48, coarse: 48, exact: 48 });
    for (const place of [0, 20, 47]) {
      const response = await fetch(`${app.url}/api/footage/${body.id}/strip/${place}`);
      const { data, info } = await sharp(await response.arrayBuffer())
        .raw()
        .toBuffer({ resolveWithObject: true });
      expect(readNumber(data, info.channels, info.width)).toBe(Math.floor(((place + 0.5) * 60) / 48));
    }
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
    ['letter.mp4', () => text('Dear Osier Lane, …'), 'not_a_video', /“letter.mp4” is not a video/],
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
    ['drawing.mp4', () => text('<svg xmlns="http://www.w3.org/2000/svg"/>'), 'not_a_video', /Choose an MP4/],
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

  it('a file cut short whose frame list is whole', async () => {
    const whole = await readFile(
      clips.make('fast.mkv', ...numberedFrames(200, 20), '-c:v', 'libx264', '-crf', '10'),
    );
    const { body } = await app.upload('fast.mkv', whole.subarray(0, whole.length * 0.4));
    expect(body.code).toBe('cut_short');
    expect(body.title).toContain('breaks off after');
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
    expect(toProblem(new Problem(404, 'x', 'y'))).toMatchObject({ status: 404 });
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
