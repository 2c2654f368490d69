import { readFileSync } from 'node:fs';
import { readdir, readFile, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import type { FootageView } from '@muted-pond/core/api';
import Database from 'better-sqlite3';
import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest';
import { UploadsService } from '../src/footage/uploads.service.js';
import { startApp, type TestApp } from './app.js';
import { type ClipFolder, clipFolder } from './clips.js';

/** The protocol spoken by hand (tus 1.0), so that a break is where the test wants it. */

let app: TestApp;
let clips: ClipFolder;
let clip: Buffer;

beforeAll(async () => {
  app = await startApp({ mostUploadBytes: 5_000_000 });
  clips = clipFolder();
  clip = readFileSync(
    clips.make(
      'pond.mp4',
      '-f',
      'lavfi',
      '-i',
      'testsrc2=s=320x180:r=20:d=2',
      '-c:v',
      'libx264',
      '-crf',
      '8',
    ),
  );
});
afterAll(async () => {
  clips.remove();
  await app.stop();
});

const TUS = { 'tus-resumable': '1.0.0' };
const named = (name: string) => `name ${Buffer.from(name).toString('base64')}`;

async function begin(bytes: number, name = 'pond.mp4'): Promise<Response> {
  const headers = { ...TUS, 'upload-length': String(bytes), 'upload-metadata': named(name) };
  return fetch(`${app.url}/api/uploads`, { method: 'POST', headers });
}

function send(at: string, offset: number, bytes: Uint8Array): Promise<Response> {
  return fetch(new URL(at, app.url), {
    method: 'PATCH',
    headers: { ...TUS, 'upload-offset': String(offset), 'content-type': 'application/offset+octet-stream' },
    body: bytes,
  });
}

async function offsetOf(at: string): Promise<number> {
  const response = await fetch(new URL(at, app.url), { method: 'HEAD', headers: TUS });
  return Number(response.headers.get('upload-offset'));
}

const leftOver = () => readdir(join(app.dataDir, 'uploads'));

describe('a resumable upload', () => {
  it('that breaks off at every tenth goes on where it was, also across a stop of the server, and becomes footage', async () => {
    const at = (await begin(clip.length)).headers.get('location') ?? '';
    for (let tenth = 1; tenth < 10; tenth++) {
      const offset = await offsetOf(at);
      const until = Math.floor((clip.length * tenth) / 10);
      expect((await send(at, offset, clip.subarray(offset, until))).status).toBe(204);
      if (tenth === 5) {
        await app.stop(true);
        app = await startApp({ dataDir: app.dataDir, mostUploadBytes: 5_000_000 });
      }
    }
    const offset = await offsetOf(at);
    const last = await send(at, offset, clip.subarray(offset));
    expect(last.ok).toBe(true);
    const view = (await last.json()) as FootageView;
    expect(view).toMatchObject({ name: 'pond.mp4', bytes: clip.length, frameCount: 40 });
    expect(await leftOver()).toEqual([]);
    const frame = await fetch(`${app.url}/api/footage/${view.id}/frames/39`);
    expect(frame.status).toBe(200);
  });

  it('that is refused says why, and nothing of it stays', async () => {
    const bytes = Buffer.from('Dear Osier Lane, this is no video.');
    const at = (await begin(bytes.length, 'letter.mp4')).headers.get('location') ?? '';
    const response = await send(at, 0, bytes);
    expect(response.status).toBe(422);
    expect(await response.json()).toMatchObject({
      code: 'not_a_video',
      title: expect.stringContaining('“letter.mp4”'),
    });
    expect(await leftOver()).toEqual([]);
  });

  it('larger than may be taken is refused before a byte of it comes', async () => {
    const response = await begin(5_000_001);
    expect(response.status).toBe(413);
    expect(await response.json()).toMatchObject({ title: expect.stringContaining('Trim it first') });
  });

  it('that is given up is thrown away', async () => {
    const at = (await begin(clip.length)).headers.get('location') ?? '';
    await send(at, 0, clip.subarray(0, 1000));
    expect(await leftOver()).not.toEqual([]);
    expect((await fetch(new URL(at, app.url), { method: 'DELETE', headers: TUS })).status).toBe(204);
    expect(await leftOver()).toEqual([]);
  });

  it.each(['../../etc/passwd', '%2e%2e%2fblobs', 'none'])('of the name %s is not there', async (name) => {
    const response = await fetch(`${app.url}/api/uploads/${name}`, { method: 'HEAD', headers: TUS });
    expect(response.status).toBe(404);
  });

  it('whose last answer was lost is told as what it was taken, as often as it is asked', async () => {
    const at = (await begin(clip.length, 'lost answer.mp4')).headers.get('location') ?? '';
    const sent = await send(at, 0, clip);
    const { id } = (await sent.json()) as FootageView;
    for (let turn = 0; turn < 2; turn++) {
      const asked = await fetch(new URL(at, app.url), { method: 'HEAD', headers: TUS });
      expect([asked.status, asked.headers.get('upload-offset'), asked.headers.get('upload-footage')]).toEqual(
        [200, String(clip.length), id],
      );
    }
  });

  it('that was complete when the server was killed becomes footage at the next start', async () => {
    const bytes = Buffer.concat([clip, Buffer.from('a tail of its own')]);
    const at = (await begin(bytes.length, 'killed at its end.mp4')).headers.get('location') ?? '';
    expect((await send(at, 0, bytes.subarray(0, 1000))).status).toBe(204);
    await app.stop(true);
    // All bytes had come, and the server ended before it looked at them.
    const id = at.split('/').at(-1) ?? '';
    await writeFile(join(app.dataDir, 'uploads', id), bytes);
    app = await startApp({ dataDir: app.dataDir, mostUploadBytes: 5_000_000 });
    const named = async () =>
      (await app.ask<FootageView[]>('GET', 'footage')).body.find(
        ({ name }) => name === 'killed at its end.mp4',
      );
    await vi.waitUntil(named, 20_000);
    const asked = await fetch(new URL(at, app.url), { method: 'HEAD', headers: TUS });
    expect(asked.headers.get('upload-footage')).toBe((await named())?.id);
    expect(asked.headers.get('upload-offset')).toBe(String(bytes.length));
    expect(await leftOver()).not.toContain(id);
  });

  it('that was kept but not written down when the server was killed is written down at the next start', async () => {
    const bytes = Buffer.concat([clip, Buffer.from('another tail')]);
    const at = (await begin(bytes.length, 'not written down.mp4')).headers.get('location') ?? '';
    const id = at.split('/').at(-1) ?? '';
    const notes = join(app.dataDir, 'uploads', `${id}.json`);
    const config = await readFile(notes);
    const { id: hash } = (await (await send(at, 0, bytes)).json()) as FootageView;
    await app.stop(true);
    // As it is between the two: the blob and the notes are there, the row is not.
    await writeFile(notes, config);
    const database = new Database(join(app.dataDir, 'muted-pond.sqlite'));
    database.prepare('DELETE FROM footage WHERE hash = ?').run(hash);
    database.close();
    app = await startApp({ dataDir: app.dataDir, mostUploadBytes: 5_000_000 });
    // Asked by several at once, while the start looks for it as well.
    const answers = await Promise.all(
      [1, 2, 3, 4].map(() => fetch(new URL(at, app.url), { method: 'HEAD', headers: TUS })),
    );
    expect(answers.map((one) => [one.status, one.headers.get('upload-footage')])).toEqual(
      new Array(4).fill([200, hash]),
    );
    const names = async () => (await app.ask<FootageView[]>('GET', 'footage')).body.map(({ name }) => name);
    await expect.poll(names).toContain('not written down.mp4');
    const asked = await fetch(new URL(at, app.url), { method: 'HEAD', headers: TUS });
    expect(asked.headers.get('upload-footage')).toBe(hash);
    expect(await leftOver()).not.toContain(`${id}.json`);
  });

  it('that nobody took up again is cleared while the server runs, notes of finished ones too', async () => {
    await begin(5000, 'left.mp4');
    const notes = () => readdir(join(app.dataDir, 'finished-uploads'));
    const names = await leftOver();
    expect(Math.min(names.length, (await notes()).length)).toBeGreaterThan(0);
    const uploads = app.nest.get(UploadsService);
    await uploads.clean();
    expect(await leftOver()).toEqual(names);
    vi.useFakeTimers({ now: Date.now() + 4 * 86_400_000, toFake: ['Date'] });
    try {
      await uploads.clean();
    } finally {
      vi.useRealTimers();
    }
    expect([await leftOver(), await notes()]).toEqual([[], []]);
  });
});
