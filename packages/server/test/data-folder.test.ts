import { type ChildProcess, execFileSync, spawn } from 'node:child_process';
import { once } from 'node:events';
import {
  appendFileSync,
  cpSync,
  existsSync,
  mkdirSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  rmSync,
  truncateSync,
  writeFileSync,
} from 'node:fs';
import { request } from 'node:http';
import { tmpdir } from 'node:os';
import { basename, dirname, join } from 'node:path';
import { createInterface } from 'node:readline';
import type { FootageView, HostView, PieceView, ShelfPiece } from '@muted-pond/core/api';
import { UserError } from '@muted-pond/core/errors';
import { NOTHING_HELD } from '@muted-pond/core/still';
import Database from 'better-sqlite3';
import { afterAll, afterEach, beforeAll, beforeEach, describe, expect, it, vi } from 'vitest';
import { backUp, restore } from '../src/data-folder/index.js';
import { dataFolders } from '../src/settings.js';
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
      ...{ ...NOTHING_HELD, plate: { kind: 'frame', frame: 0 } },
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
  let copy: string;
  beforeEach(() => {
    copy = join(mkdtempSync(join(clips.path, 'backup-')), 'copy');
  });

  let template: string;
  let piece: string;
  beforeAll(async () => {
    template = mkdtempSync(join(tmpdir(), 'muted-pond-template-'));
    piece = await fill(template);
  });
  afterAll(() => rmSync(template, { recursive: true, force: true }));

  /** The folder now holds a piece and its trial, and a page of the practice host. @returns the piece. */
  const filled = () => {
    cpSync(template, folder, { recursive: true });
    return piece;
  };

  async function fill(dataDir: string): Promise<string> {
    const app = await startApp({ dataDir, practicePort: 0 });
    const { piece } = await pieceOver(app, clip, 'pond.mp4');
    const trial = await finishedTrial(app, piece.id, piece.recipe);
    const sent = app.event((event) => event.type === 'sending' && event.sending.state === 'done');
    await app.ask('POST', `pieces/${piece.id}/sending`, {
      ...{ trial: trial.id, places: ['blog-column'], fits: false, title: 'Pond', about: '' },
    });
    await sent;
    await app.stop(true);
    return piece.id;
  }

  /** Everything beside the folder that restoring made. */
  const aside = () =>
    readdirSync(dirname(folder))
      .filter((name) => name.startsWith(`${basename(folder)}.`))
      .map((name) => join(dirname(folder), name))
      .sort();

  afterEach(() => {
    for (const path of aside()) rmSync(path, { recursive: true, force: true });
  });

  const namesIn = (dataDir: string) => {
    const database = new Database(databaseOf(dataDir), { readonly: true });
    try {
      return database.prepare('SELECT name FROM piece ORDER BY name').pluck().all();
    } finally {
      database.close();
    }
  };

  const rename = (dataDir: string, name: string) => {
    const database = new Database(databaseOf(dataDir));
    database.prepare('UPDATE piece SET name = ?').run(name);
    database.close();
  };

  it('of a folder in use is consistent, says what it holds, and brings it back whole, pages and all', async () => {
    filled();
    const app = await startApp({ dataDir: folder, practicePort: 0 });
    const manifest = await backUp(folder, copy);
    expect(manifest.holds).toMatchObject({ pieces: 1, footage: 1, trials: 1, pages: 1 });
    expect(manifest.files).toBe(2);
    // Another reader of the list finds every file as it says.
    execFileSync('sha256sum', ['--check', '--strict', '--quiet', 'SHA256SUMS'], { cwd: copy });
    await expect(backUp(folder, copy)).rejects.toThrow('is there already');
    // What comes afterwards is not in it.
    await app.ask('DELETE', `pieces/${piece}`);
    await app.stop(true);

    const { before } = await restore(copy, folder);
    expect(before && existsSync(databaseOf(before))).toBe(true);
    const again = await startApp({ dataDir: folder, practicePort: 0 });
    const shelf = (await again.ask<ShelfPiece[]>('GET', 'pieces')).body;
    expect(shelf.map(({ id }) => id)).toEqual([piece]);
    const [one] = shelf as PieceView[];
    expect((await finishedTrial(again, piece, one.recipe)).state).toBe('done');
    const { pages } = (await again.ask<HostView>('GET', 'practice-host')).body;
    expect(pages.map(({ title }) => title)).toEqual(['Pond']);
    expect((await fetch(pages[0].direct)).status).toBe(200);
    await again.stop(true);
  });

  it('restored twice keeps what was put aside each time', async () => {
    filled();
    rename(folder, 'as it was backed up');
    await backUp(folder, copy);
    rename(folder, 'before the first');
    const first = (await restore(copy, folder)).before as string;
    expect(namesIn(folder)).toEqual(['as it was backed up']);
    rename(folder, 'before the second');
    const second = (await restore(copy, folder)).before as string;
    expect(namesIn(folder)).toEqual(['as it was backed up']);
    expect([first, second].map(namesIn)).toEqual([['before the first'], ['before the second']]);
  });

  it('that lies in the folder itself can be restored again and again, and none is lost', async () => {
    filled();
    const { backups } = dataFolders(folder);
    mkdirSync(backups);
    await backUp(folder, join(backups, 'monday'));
    await backUp(folder, join(backups, 'tuesday'));
    for (let turn = 0; turn < 3; turn++) {
      await restore(join(backups, 'monday'), folder);
      expect(readdirSync(backups).sort()).toEqual(['monday', 'tuesday']);
    }
    expect(namesIn(folder)).toHaveLength(1);
    expect(aside()).toHaveLength(3);
  });

  it.each<[string, (backup: string) => void, string]>([
    [
      'has a database cut short',
      (backup) => truncateSync(databaseOf(backup), 8000),
      '1 damaged (muted-pond.sqlite)',
    ],
    ['lacks its database', (backup) => rmSync(databaseOf(backup)), '1 files are missing'],
    ['has a damaged file', (backup) => writeFileSync(blobOf(backup), 'not the same'), '1 damaged (blobs/'],
    ['lacks a file', (backup) => rmSync(blobOf(backup)), '1 files are missing'],
    [
      'lacks a page of the practice host',
      (backup) => rmSync(join(backup, 'practice-host', 'files'), { recursive: true }),
      '1 files are missing',
    ],
    [
      'says {} of itself',
      (backup) => writeFileSync(join(backup, 'backup.json'), '{}'),
      'backup.json is damaged',
    ],
    [
      'says null of itself',
      (backup) => writeFileSync(join(backup, 'backup.json'), 'null'),
      'backup.json is damaged',
    ],
    [
      'says nothing readable of itself',
      (backup) => writeFileSync(join(backup, 'backup.json'), '{"cr'),
      'backup.json is damaged',
    ],
    [
      'names a path as its time',
      (backup) => changeManifest(backup, { createdAt: '../../elsewhere' }),
      'backup.json is damaged',
    ],
    ['says nothing of itself', (backup) => rmSync(join(backup, 'backup.json')), 'is no backup of Muted Pond'],
    [
      'has a list cut short',
      (backup) => truncateSync(join(backup, 'SHA256SUMS'), 100),
      'its list SHA256SUMS is damaged',
    ],
    [
      'is of an earlier version with a database cut short',
      (backup) => {
        rmSync(join(backup, 'SHA256SUMS'));
        changeManifest(backup, { holds: null });
        truncateSync(databaseOf(backup), 8000);
      },
      'is damaged and cannot be read',
    ],
  ])('that %s is refused in a sentence, and nothing has changed', async (_, harm, sentence) => {
    filled();
    await backUp(folder, copy);
    rename(folder, 'as it is');
    harm(copy);
    await expect(restore(copy, folder)).rejects.toThrow(UserError);
    await expect(restore(copy, folder)).rejects.toThrow(sentence);
    expect([namesIn(folder), aside()]).toEqual([['as it is'], []]);
  });

  it('is not troubled by what a file manager leaves lying about', async () => {
    filled();
    await backUp(folder, copy);
    for (const place of ['.', 'blobs', join('practice-host', 'files')]) {
      writeFileSync(join(copy, place, '.DS_Store'), 'left by a file manager');
    }
    await restore(copy, folder);
    const app = await startApp({ dataDir: folder, practicePort: 0 });
    expect((await app.ask<ShelfPiece[]>('GET', 'pieces')).body).toHaveLength(1);
    expect((await app.ask('POST', 'health/bring-back')).status).toBe(201);
    await app.stop(true);
  });

  it('of a version without a list is checked by its counts and its names', async () => {
    filled();
    await backUp(folder, copy);
    rmSync(join(copy, 'SHA256SUMS'));
    writeFileSync(
      join(copy, 'backup.json'),
      JSON.stringify({ createdAt: '2026-11-01T10:00:00.000Z', files: 2 }),
    );
    await restore(copy, folder);
    expect(namesIn(folder)).toHaveLength(1);
  });

  it('is not made where something else is kept', async () => {
    filled();
    const { blobs } = dataFolders(folder);
    for (const target of [join(blobs, 'copy'), join(folder, 'copy'), blobs]) {
      await expect(backUp(folder, target)).rejects.toThrow(/lies in the data folder itself|is there already/);
    }
    expect(readdirSync(blobs).filter((name) => name.length !== 2)).toEqual([]);
  });
});

const blobOf = (backup: string) => {
  const blobs = join(backup, 'blobs');
  const [part] = readdirSync(blobs);
  return join(blobs, part, readdirSync(join(blobs, part))[0]);
};

const changeManifest = (backup: string, part: object) => {
  const path = join(backup, 'backup.json');
  writeFileSync(path, JSON.stringify({ ...JSON.parse(readFileSync(path, 'utf8')), ...part }));
};
