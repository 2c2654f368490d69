import { readFile } from 'node:fs/promises';
import { crc32 } from 'node:zlib';
import type { FootageView, PieceView } from '@muted-pond/core/api';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { buildGif } from '../../core/src/testing/gif-builder.js';
import { finishedTrial, startApp, type TestApp } from './app.js';
import { type ClipFolder, clipFolder, numberedFrames, readNumber } from './clips.js';

let app: TestApp;
let clips: ClipFolder;

beforeAll(async () => {
  app = await startApp();
  clips = clipFolder();
});
afterAll(async () => {
  clips.remove();
  await app.stop();
});

const noise = (width: number, height: number) =>
  sharp(
    Buffer.from(Array.from({ length: width * height * 3 }, (_, i) => (i * 7919 + ((i * i) >> 3)) % 251)),
    { raw: { width, height, channels: 3 } },
  );

/** Whole files of every kind. */
const WHOLE: Readonly<Record<string, () => Promise<Buffer>>> = {
  'video.mp4': () => clip('c.mp4', '-c:v', 'libx264', '-crf', '8'),
  'video.mov': () => clip('c.mov', '-c:v', 'prores_ks'),
  'video.webm': () => clip('c.webm', '-c:v', 'libvpx', '-b:v', '3M'),
  'video.mkv': () => clip('c.mkv', '-c:v', 'libx264', '-crf', '8'),
  'video.avi': () => clip('c.avi', '-c:v', 'mpeg4', '-q:v', '2'),
  'animation.gif': () => clip('c.gif'),
  'animation.png': () => clip('c.png', '-f', 'apng'),
  'animation.webp': () => clip('c.webp', '-c:v', 'libwebp_anim', '-lossless', '1'),
  'picture.png': () => noise(120, 90).png().toBuffer(),
  'picture.jpg': () => noise(120, 90).jpeg({ quality: 95 }).toBuffer(),
  'picture.webp': () => noise(120, 90).webp({ lossless: true }).toBuffer(),
  'picture.tiff': () => noise(120, 90).tiff({ compression: 'lzw' }).toBuffer(),
  'picture.avif': () => noise(120, 90).avif({ quality: 90 }).toBuffer(),
};

function clip(name: string, ...args: string[]): Promise<Buffer> {
  return readFile(clips.make(name, ...numberedFrames(120, 20), ...args));
}

async function refusal(name: string, bytes: Uint8Array): Promise<{ code: string; title: string }> {
  const before = await app.keptFiles();
  const { status, body } = await app.upload(name, bytes);
  expect(status, `${name} should be refused`).toBe(422);
  expect(body.title).toContain(`“${name}”`);
  expect(body.title).toMatch(/\. (Copy|Make|Choose|Save|Bring|It may)/);
  expect(await app.keptFiles()).toEqual(before);
  return body;
}

/** Kinds of which nothing can be shown without the part that is missing. */
const NEEDS_ALL = ['video.mp4', 'video.mov', 'picture.webp', 'picture.tiff', 'picture.avif'];

describe('cut short, whatever the kind', () => {
  it.each(Object.keys(WHOLE))(
    '%s opens with what it holds, said plainly, or is refused by name',
    async (name) => {
      const whole = await WHOLE[name]();
      const part = whole.subarray(0, Math.floor(whole.length * 0.45));
      if (NEEDS_ALL.includes(name)) {
        const { code } = await refusal(name, part);
        expect(['cut_short', 'decoder_failed', 'no_picture', 'not_a_video']).toContain(code);
      } else {
        const { status, body } = await app.upload(name, part);
        expect(status, body.title).toBe(201);
        expect(body.breaksOff).toMatch(/^it breaks off/);
        if (body.kind !== 'picture') {
          expect(body.frameCount).toBeGreaterThan(20);
          expect(body.frameCount).toBeLessThan(110);
        }
        // Every frame that is promised now can be shown, the last as well.
        for (const frame of new Set([0, body.frameCount >> 1, body.frameCount - 1])) {
          const picture = await fetch(`${app.url}/api/footage/${body.id}/frames/${frame}`);
          expect(picture.status, `frame ${frame} of ${body.frameCount}`).toBe(200);
        }
      }
      // The whole one is taken afterwards: the broken one left nothing in its way.
      const { status, body } = await app.upload(name, whole);
      expect([status, body.breaksOff]).toEqual([201, null]);
    },
  );

  it('a video says after how much of what it promised it breaks off, and its frames are the file’s', async () => {
    const args = ['-c:v', 'libx264', '-crf', '10', '-movflags', '+faststart'];
    const whole = await readFile(clips.make('fast.mp4', ...numberedFrames(200, 20), ...args));
    const { body } = await app.upload('fast.mp4', whole.subarray(0, whole.length * 0.6));
    expect(body.breaksOff).toMatch(/^it breaks off after [3-8]\.\d s of 10\.0 s$/);
    const last = body.frameCount - 1;
    const response = await fetch(`${app.url}/api/footage/${body.id}/frames/${last}`);
    const { data } = await sharp(await response.arrayBuffer())
      .raw()
      .toBuffer({ resolveWithObject: true });
    expect(readNumber(data, 3, 160)).toBe(last);
  });

  it('a camera that dropped frames makes an honest file: counts in headers prove nothing', async () => {
    const filter = numberedFrames(444, 15).map((word) =>
      word.startsWith('format=') ? `${word},select='not(mod(n\\,7))+eq(n\\,443)'` : word,
    );
    const path = clips.make('dropped.avi', ...filter, '-fps_mode', 'vfr', '-c:v', 'mjpeg', '-q:v', '3');
    const { status, body } = await app.upload('dropped.avi', await readFile(path));
    expect([status, body.frameCount, body.breaksOff, body.variableRate]).toEqual([201, 65, null, true]);
    expect(body.seconds).toBeCloseTo(444 / 15, 1);
    const { body: times } = await app.ask<{ starts: number[] }>('GET', `footage/${body.id}/times`);
    expect(times.starts.slice(0, 3)).toEqual([0, 7 / 15, 14 / 15].map((at) => expect.closeTo(at, 3)));
  });

  it.each(Object.keys(WHOLE))('%s of which only the first bytes came', async (name) => {
    await refusal(name, (await WHOLE[name]()).subarray(0, 40));
  });
});

/** A PNG whose header says another size, with its checksum right. */
async function claimingPng(width: number, height: number): Promise<Buffer> {
  const bytes = Buffer.from(await noise(8, 8).png().toBuffer());
  bytes.writeUInt32BE(width, 16);
  bytes.writeUInt32BE(height, 20);
  bytes.writeUInt32BE(crc32(bytes.subarray(12, 29)), 29);
  return bytes;
}

describe('sizes that cannot be', () => {
  it('a header that claims 65535 × 65535', async () => {
    expect((await refusal('claims.png', await claimingPng(65535, 65535))).code).toBe('too_many_pixels');
    const gif = Buffer.from(await noise(8, 8).gif().toBuffer());
    gif.writeUInt16LE(65535, 6);
    gif.writeUInt16LE(65535, 8);
    expect((await refusal('claims.gif', gif)).code).toBe('too_many_pixels');
    const jpeg = Buffer.from(await noise(8, 8).jpeg().toBuffer());
    const frame = jpeg.indexOf(Buffer.from([0xff, 0xc0]));
    jpeg.writeUInt16BE(65535, frame + 5);
    jpeg.writeUInt16BE(65535, frame + 7);
    expect((await refusal('claims.jpg', jpeg)).code).toBe('too_many_pixels');
  });

  it('a small file that claims a million frames', async () => {
    const bytes = Buffer.from(
      await readFile(clips.make('many.mov', ...numberedFrames(30, 30), '-c:v', 'mjpeg')),
    );
    // QuickTime File Format: the counts of “stts” and “stsz”, one size for all samples.
    bytes.writeUInt32BE(1_000_000, bytes.indexOf('stts', 0, 'latin1') + 12);
    const sizes = bytes.indexOf('stsz', 0, 'latin1');
    bytes.writeUInt32BE(1, sizes + 8);
    bytes.writeUInt32BE(1_000_000, sizes + 12);
    const { code } = await refusal('many.mov', bytes);
    expect(['too_many_frames', 'cut_short', 'decoder_failed', 'no_picture']).toContain(code);
  });

  it('a GIF whose frames are more than can be unpacked', async () => {
    const one = { left: 0, top: 0, width: 1, height: 1, indices: new Uint8Array(1), codeBits: 2 };
    const rest = { delayCs: 10, disposal: 1, transparentIndex: null, interlaced: false, localTable: null };
    const bomb = buildGif(8000, 4500, new Uint8Array(12), new Array(60).fill({ ...one, ...rest }));
    expect(bomb.length).toBeLessThan(2000);
    expect((await refusal('bomb.gif', bomb)).code).toBe('too_many_pixels');
  });

  it('a picture of a gigapixel', async () => {
    const { title } = await refusal('wall.png', await claimingPng(40_000, 25_000));
    expect(title).toContain('claims 40000 × 25000 px');
  });
});

describe('what reaches outside', () => {
  it.each([
    [
      'drawing.png',
      '<?xml version="1.0"?><!DOCTYPE svg [<!ENTITY x SYSTEM "file:///etc/passwd">]><svg xmlns="http://www.w3.org/2000/svg"><text>&x;</text></svg>',
      'a_drawing',
    ],
    ['drawing.jpg', '  <!-- tea -->\n<svg><image href="file:///etc/passwd"/></svg>', 'a_drawing'],
    ['list.mp4', '#EXTM3U\n#EXT-X-TARGETDURATION:1\n#EXTINF:1,\nfile:///etc/passwd\n', 'names_other_files'],
    ['list.mpd', '<?xml version="1.0"?><MPD><Period/></MPD>', 'names_other_files'],
    ['list.txt', "ffconcat version 1.0\nfile '/etc/passwd'\n", 'names_other_files'],
  ])('%s is not followed', async (name, text, code) => {
    expect((await refusal(name, Buffer.from(text))).code).toBe(code);
  });
});

describe('few frames', () => {
  it('none: a GIF without an image, a video without a frame', async () => {
    const empty = Buffer.from('474946383961080008008000000000 00ffffff3b'.replaceAll(' ', ''), 'hex');
    expect((await refusal('none.gif', empty)).code).toBe('no_picture');
    const head = (await WHOLE['video.webm']()).subarray(0, 420);
    await refusal('none.webm', head);
  });

  it('one: a video of one frame makes a piece and a file; a GIF of one is a picture', async () => {
    const bytes = await readFile(clips.make('one.mp4', ...numberedFrames(1, 20), '-c:v', 'libx264'));
    const { body } = await app.upload('one.mp4', bytes);
    expect(body).toMatchObject({ frameCount: 1, kind: 'video' });
    const { body: piece } = await app.ask<PieceView>('POST', 'pieces', { footage: body.id });
    const trial = await finishedTrial(app, piece.id, piece.recipe);
    expect(trial).toMatchObject({ state: 'done', figures: { frames: 1 } });
    const { body: gif } = await app.upload('one.gif', await noise(9, 9).gif().toBuffer());
    expect(gif).toMatchObject({ kind: 'picture', frameCount: 1, width: 9 });
  });
});

describe('odd sizes', () => {
  it.each([
    [641, 361],
    [1, 1],
    [3, 700],
  ])('%i × %i come through every kind to a file', async (width, height) => {
    const filter = [
      ...['-f', 'rawvideo', '-pix_fmt', 'rgb24', '-s', `${width}x${height}`, '-r', '10', '-i', '/dev/zero'],
      ...['-frames:v', '4'],
    ];
    const made: FootageView[] = [];
    for (const [name, args] of [
      ['odd.mkv', ['-c:v', 'ffv1', '-pix_fmt', 'bgr0']],
      ['odd.webm', ['-c:v', 'libvpx-vp9', '-pix_fmt', 'yuv444p']],
      ['odd.gif', []],
    ] as const) {
      const { status, body } = await app.upload(name, await readFile(clips.make(name, ...filter, ...args)));
      expect([status, body.width, body.height], name).toEqual([201, width, height]);
      made.push(body);
    }
    const { body: piece } = await app.ask<PieceView>('POST', 'pieces', { footage: made[0].id });
    const trial = await finishedTrial(app, piece.id, piece.recipe);
    expect(trial.state).toBe('done');
    const response = await fetch(`${app.url}/api/footage/${made[1].id}/frames/1`);
    const working = await sharp(await response.arrayBuffer()).metadata();
    expect(working.width).toBe(
      Math.min(width, Math.max(1, Math.round((width * Math.min(960, height)) / height))),
    );
  });
});

describe('a batch with a broken member', () => {
  it('goes on: the good ones make a piece together', async () => {
    const good = await Promise.all(
      [1, 2, 3].map((n) =>
        noise(20 * n, 30)
          .png()
          .toBuffer()
          .then((bytes) => app.upload(`panel ${n}.png`, bytes)),
      ),
    );
    const bad = await app.upload('panel 4.png', Buffer.from('not a picture'));
    expect(bad.status).toBe(422);
    const stills = good.map(({ body }) => body.id);
    const { status, body: piece } = await app.ask<PieceView>('POST', 'pieces', { stills });
    expect(status).toBe(201);
    expect(piece.recipe.sources[0]).toMatchObject({ kind: 'stills', canvas: { width: 60, height: 30 } });
    const trial = await finishedTrial(app, piece.id, {
      ...piece.recipe,
      weigh: { ...piece.recipe.weigh, width: 60 },
    });
    expect(trial).toMatchObject({
      state: 'done',
      figures: { frames: 3, durationMs: 6000, width: 60, height: 30 },
    });
  });

  it('stills are pictures, and a piece is made of one kind', async () => {
    const picture = await app.upload('p.png', await noise(5, 5).png().toBuffer());
    const video = await app.upload('video.mp4', await WHOLE['video.mp4']());
    const mixed = await app.ask<{ title: string }>('POST', 'pieces', {
      stills: [picture.body.id, video.body.id],
    });
    expect([mixed.status, mixed.body.title]).toEqual([
      422,
      expect.stringContaining('“video.mp4” is not a picture'),
    ]);
    const both = await app.ask('POST', 'pieces', { stills: [picture.body.id], footage: video.body.id });
    expect(both.status).toBe(400);
    expect((await app.ask('POST', 'pieces', {})).status).toBe(400);
    expect((await app.ask('POST', 'pieces', { stills: [] })).status).toBe(400);
    expect((await app.ask('POST', 'pieces', { stills: ['f'.repeat(64)] })).status).toBe(404);
  });
});

describe('what does not fit the footage', () => {
  it('a crop that leaves the picture is refused when it is saved', async () => {
    const { body: footage } = await app.upload('video.mp4', await WHOLE['video.mp4']());
    const { body: piece } = await app.ask<PieceView>('POST', 'pieces', { footage: footage.id });
    const framing = { ...piece.recipe.framing, crop: { x: 100, y: 0, width: 100, height: 20 } };
    const saved = await app.ask<{ title: string }>('PUT', `pieces/${piece.id}`, {
      revision: piece.revision,
      name: piece.name,
      recipe: { ...piece.recipe, framing },
    });
    expect([saved.status, saved.body.title]).toEqual([
      422,
      expect.stringContaining('leaves the picture of 160 × 48'),
    ]);
  });
});

it('a file taken out of the library can be put back, and its pieces keep it', async () => {
  const { body } = await app.upload('keep.png', await noise(30, 30).png().toBuffer());
  const { body: piece } = await app.ask<PieceView>('POST', 'pieces', { stills: [body.id] });
  await app.ask('DELETE', `footage/${body.id}`);
  const listed = async () => (await app.ask<FootageView[]>('GET', 'footage')).body.map((file) => file.id);
  expect(await listed()).not.toContain(body.id);
  expect((await finishedTrial(app, piece.id, piece.recipe)).state).toBe('done');
  await app.ask('POST', `footage/${body.id}/restore`);
  expect(await listed()).toContain(body.id);
});
