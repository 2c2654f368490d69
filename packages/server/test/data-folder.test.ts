import { type ChildProcess, spawn } from 'node:child_process';
import { once } from 'node:events';
import {
  appendFileSync,
  existsSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  rmSync,
  truncateSync,
  writeFileSync,
} from 'node:fs';
import { request } from 'node:http';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { createInterface } from 'node:readline';
import type { FootageView, PieceView, ShelfPiece } from '@muted-pond/core/api';
import Database from 'better-sqlite3';
import { afterAll, afterEach, beforeAll, beforeEach, describe, expect, it, vi } from 'vitest';
import { backUp, damagedIn, restore } from '../src/data-folder/index.js';
import { finishedTrial, pieceOver, startApp, type TestApp } from './app.js';
import { type ClipFolder, clipFolder } from './clips.js';

let clips: ClipFolder;
let clip: string;
let folder: string;

beforeAll(() => {
  clips = clipFolder();
  clip = clips.make('pond.mp4', '-f', 'lavfi', '-i', 'testsrc2=s=160x90:r=20:d=1', '-c:v', 'libx264');
});
afterAll(() => clips.remove());
beforeEach(() => {
  folder = mkdtempSync(join(tmpdir(), 'muted-pond-folder-'));
});
afterEach(() => rmSync(folder, { recursive: true, force: true }));

const databaseOf = (dataDir: string) => join(dataDir, 'muted-pond.sqlite');

/** A server as a process of its own, from the sources. */
async function startProcess(dataDir: string, port = '0') {
  const child = spawn(
    process.execPath,
    ['--conditions=@muted-pond/source', '--import', 'tsx', 'src/main.ts'],
    {
      cwd: new URL('..', import.meta.url),
      env: {
        ...process.env,
        ...{
          MUTED_POND_PORT: port,
          MUTED_POND_PRACTICE_PORT: '0',
          MUTED_POND_DATA: dataDir,
          MUTED_POND_WEB: '',
        },
      },
      stdio: ['ignore', 'pipe', 'pipe'],
    },
  );
  let told = '';
  child.stderr.on('data', (text) => (told += text));
  const lines = createInterface({ input: child.stdout });
  const url = await new Promise<string | null>((resolve) => {
    lines.on('line', (line) => {
      const found = /http:\/\/localhost:\d+/.exec(line)?.[0];
      if (found) resolve(found);
    });
    child.on('exit', () => resolve(null));
  });
  if (url === null && child.exitCode === null) await once(child, 'exit');
  return { child, url, told: () => told };
}

async function endedWithin(child: ChildProcess, ms: number): Promise<boolean> {
  if (child.exitCode !== null || child.signalCode !== null) return true;
  const late = AbortSignal.timeout(ms);
  return once(child, 'exit', { signal: late }).then(
    () => true,
    () => false,
  );
}

describe('a data folder', () => {
  it('is one server’s at a time: a second one says so, and touches nothing', async () => {
    const first = await startApp({ dataDir: folder });
    writeFileSync(join(folder, 'incoming', 'half'), 'an upload under way');
    await expect(startApp({ dataDir: folder })).rejects.toThrow('Another Muted Pond already uses the folder');
    const second = await startProcess(folder);
    expect(second.child.exitCode).toBe(1);
    expect(second.told()).toMatch(/^Another Muted Pond already uses the folder .*\n$/);
    expect(readFileSync(join(folder, 'incoming', 'half'), 'utf8')).toBe('an upload under way');
    await first.stop(true);
    const third = await startApp({ dataDir: folder });
    await third.stop(true);
  });

  it('is let go by the system when its server is killed', async () => {
    const { child, url } = await startProcess(folder);
    expect(url).not.toBeNull();
    child.kill('SIGKILL');
    await once(child, 'exit');
    const next = await startApp({ dataDir: folder });
    await next.stop(true);
  });

  it('of a later version is refused in a sentence, and left as it is', async () => {
    await (await startApp({ dataDir: folder })).stop(true);
    const database = new Database(databaseOf(folder));
    database.prepare('INSERT INTO migrations (timestamp, name) VALUES (?, ?)').run(9e12, 'FromTheFuture9');
    database.close();
    await expect(startApp({ dataDir: folder })).rejects.toThrow(
      'written by a later Muted Pond (FromTheFuture9)',
    );
  });

  it.each([
    ['overwritten', (path: string) => writeFileSync(path, 'Dear Osier Lane, …'.repeat(500))],
    ['halved', (path: string) => truncateSync(path, 9000)],
  ])('whose database is %s says so at once, in one sentence', async (_, harm) => {
    const first = await startApp({ dataDir: folder });
    await pieceOver(first, clip, 'pond.mp4');
    await first.stop(true);
    harm(databaseOf(folder));
    for (const end of ['-wal', '-shm']) rmSync(databaseOf(folder) + end, { force: true });
    const { child, told } = await startProcess(folder);
    expect(child.exitCode).toBe(1);
    expect(told().trim().split('\n')).toEqual([expect.stringContaining('is damaged and cannot be read')]);
  });
});

describe('a data folder that cannot be used', () => {
  it.each([
    ['is a file', 'data'],
    ['lies below a file', 'data/deeper'],
  ])('since it %s is told in one sentence', async (_, place) => {
    writeFileSync(join(folder, 'data'), 'not a folder');
    const dataDir = join(folder, place);
    const { child, told } = await startProcess(dataDir);
    expect(child.exitCode).toBe(1);
    expect(told().trim().split('\n')).toEqual([
      expect.stringContaining('The data folder cannot be written to'),
    ]);
  });

  it('since its disk is mounted to be read only is told in one sentence', async () => {
    await (await startApp({ dataDir: folder })).stop(true);
    const apart = process.getuid?.() === 0 ? ['-m'] : ['-U', '-r', '-m'];
    const line =
      'mount --bind "$0" "$0" && mount -o remount,ro,bind "$0" && exec "$1" --conditions=@muted-pond/source --import tsx src/main.ts';
    const child = spawn('unshare', [...apart, 'sh', '-c', line, folder, process.execPath], {
      cwd: new URL('..', import.meta.url),
      env: { ...process.env, MUTED_POND_PORT: '0', MUTED_POND_PRACTICE_PORT: '', MUTED_POND_DATA: folder },
      stdio: ['ignore', 'ignore', 'pipe'],
    });
    let told = '';
    child.stderr.on('data', (text) => (told += text));
    await once(child, 'close');
    expect(told.trim().split('\n')).toEqual([
      `The data folder cannot be written to (${folder}). Make it writable, or choose another one: MUTED_POND_DATA=… npm start`,
    ]);
  });
});

describe('a server that is told to end', () => {
  it.each(['SIGTERM', 'SIGINT'] as const)(
    'by %s does so within two seconds, though a page listens and a file is being brought in',
    async (signal) => {
      const { child, url } = await startProcess(folder);
      const { hostname, port } = new URL(url ?? '');
      const events = request({ hostname, port, path: '/api/events' });
      events.on('error', () => {});
      const listening = once(events, 'response');
      events.end();
      await listening;
      const sending = request({
        ...{ hostname, port, method: 'POST', path: '/api/footage?name=slow.mp4' },
        headers: { 'content-type': 'application/octet-stream', 'content-length': '1000000' },
      });
      sending.on('error', () => {});
      await new Promise<void>((resolve) => sending.write(new Uint8Array(1000), () => resolve()));
      child.kill(signal);
      expect(await endedWithin(child, 2000)).toBe(true);
      expect(readdirSync(join(folder, 'incoming')).length).toBeLessThanOrEqual(1);
    },
  );
});

describe('a file that is lost or damaged on the disk', () => {
  let app: TestApp;
  beforeEach(async () => {
    app = await startApp({ dataDir: folder });
  });
  afterEach(() => app.stop(true));

  it('is told, saved around, and mended by bringing the same file in again', async () => {
    const { footage, piece } = await pieceOver(app, clip, 'pond.mp4');
    const path = join(folder, 'blobs', footage.id.slice(0, 2), footage.id);
    const readings = [`footage/${footage.id}/signatures?from=0&to=4`, `footage/${footage.id}/activity`];
    const whole = async () => {
      for (const reading of readings) {
        await vi.waitUntil(async () => {
          const answer = await fetch(`${app.url}/api/${reading}`);
          return answer.ok && (await answer.arrayBuffer()).byteLength > 0;
        }, 20_000);
      }
    };
    await whole();
    const problem = async () => (await app.ask<FootageView>('GET', `footage/${footage.id}`)).body.problem;
    expect(await problem()).toBeNull();
    appendFileSync(path, 'x');
    expect(await problem()).toBe('damaged');
    rmSync(path);
    expect(await problem()).toBe('missing');
    const trial = await app.ask<{ code: string; title: string }>('POST', `pieces/${piece.id}/trials`, {
      recipe: piece.recipe,
    });
    expect([trial.status, trial.body.code]).toEqual([410, 'file_gone']);
    expect(trial.body.title).toContain('“pond.mp4” is gone from the disk. Bring the same file in again');
    rmSync(join(folder, 'cache'), { recursive: true, force: true, maxRetries: 20, retryDelay: 50 });
    const frame = await fetch(`${app.url}/api/footage/${footage.id}/full/5`);
    expect([frame.status, frame.headers.get('cache-control')]).toEqual([410, 'no-store']);
    // The first question sets the reading off; its failure is told from then on.
    for (const reading of readings) {
      const failed = await vi.waitUntil(async () => {
        const answer = await app.ask<{ code: string }>('GET', reading);
        return answer.status === 410 && answer;
      });
      expect(failed.body.code).toBe('file_gone');
    }
    const saved = await app.ask('PUT', `pieces/${piece.id}`, {
      revision: 0,
      name: 'Pond',
      recipe: piece.recipe,
    });
    expect(saved.status).toBe(200);
    expect((await app.upload('pond.mp4', readFileSync(clip))).status).toBe(201);
    expect(await problem()).toBeNull();
    await whole();
    expect((await finishedTrial(app, piece.id, piece.recipe)).state).toBe('done');
  });

  it('a save that names paint which is not there is refused, with which', async () => {
    const { piece } = await pieceOver(app, clip, 'pond.mp4');
    const lost = 'e'.repeat(64);
    const edge = { outlines: [], grow: 0, feather: 0, invert: false, shown: true, loop: null };
    const still = {
      ...{ plate: { kind: 'frame', frame: 0 }, steady: false, evenLight: false },
      ripples: [{ id: 'r', name: 'Ripple', mask: lost, ...edge }],
    };
    const { status, body } = await app.ask('PUT', `pieces/${piece.id}`, {
      ...{ revision: 0, name: 'Pond' },
      recipe: { ...piece.recipe, still },
    });
    expect([status, body]).toMatchObject([422, { code: 'layers_missing', missing: [lost] }]);
    expect((await app.ask<PieceView>('GET', `pieces/${piece.id}`)).body.revision).toBe(0);
  });

  it('half a picture is no mask', async () => {
    const png = readFileSync(new URL('../../../demo/footage/autumn menu 1.png', import.meta.url));
    const send = (bytes: Uint8Array) =>
      fetch(`${app.url}/api/layers?name=half.png`, {
        method: 'POST',
        headers: { 'content-type': 'application/octet-stream' },
        body: bytes,
      });
    expect((await send(png.subarray(0, png.length >> 1))).status).toBe(422);
    expect((await send(png)).status).toBe(201);
  });
});

describe('a backup', () => {
  it('is a consistent copy of a folder in use, and brings it back whole', async () => {
    const copy = join(clips.path, `copy ${Date.now()}`);
    const app = await startApp({ dataDir: folder });
    const { piece } = await pieceOver(app, clip, 'pond.mp4');
    await finishedTrial(app, piece.id, piece.recipe);
    const manifest = await backUp(folder, copy);
    expect(manifest.files).toBe(2);
    await expect(backUp(folder, copy)).rejects.toThrow('is there already');
    // What comes afterwards is not in it.
    await app.ask('DELETE', `pieces/${piece.id}`);
    await app.stop(true);

    const before = await restore(copy, folder);
    expect(before && existsSync(databaseOf(before))).toBe(true);
    const again = await startApp({ dataDir: folder });
    const shelf = (await again.ask<ShelfPiece[]>('GET', 'pieces')).body;
    expect(shelf.map(({ id }) => id)).toEqual([piece.id]);
    expect((await finishedTrial(again, piece.id, piece.recipe)).state).toBe('done');
    await again.stop(true);
    if (before) rmSync(before, { recursive: true, force: true });
  });

  it('that is damaged or none is refused, and nothing has changed', async () => {
    const copy = join(clips.path, `damaged ${Date.now()}`);
    const app = await startApp({ dataDir: folder });
    const { footage } = await pieceOver(app, clip, 'pond.mp4');
    await backUp(folder, copy);
    await app.stop(true);
    const blob = join(copy, 'blobs', footage.id.slice(0, 2), footage.id);
    writeFileSync(blob, 'not the same');
    expect(await damagedIn(join(copy, 'blobs'))).toEqual([footage.id]);
    await expect(restore(copy, folder)).rejects.toThrow('is not whole: 0 files are missing and 1 damaged');
    await expect(restore(clips.path, folder)).rejects.toThrow('is no backup of Muted Pond');
    expect(existsSync(databaseOf(folder))).toBe(true);
  });
});
