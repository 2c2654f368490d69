import { type ChildProcess, spawn } from 'node:child_process';
import { once } from 'node:events';
import { mkdtempSync, readFileSync, rmSync, statfsSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { createInterface } from 'node:readline';
import type { FootageView, PieceView, TrialView } from '@muted-pond/core/api';
import { changeWeigh } from '@muted-pond/core/recipe';
import Database from 'better-sqlite3';
import sharp from 'sharp';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { type ClipFolder, clipFolder } from './clips.js';

/**
 * A server whose data lie on a disk of a few megabytes, which only it can see (a tmpfs in a mount namespace
 * of its own).
 */

const DISK_MEGABYTES = 24;
let clips: ClipFolder;
let mount: string;
let child: ChildProcess;
let url: string;
let inside: string;

beforeAll(async () => {
  clips = clipFolder();
  mount = mkdtempSync(join(tmpdir(), 'muted-pond-small-disk-'));
  const line = [
    `mount -t tmpfs -o size=${DISK_MEGABYTES}m tmpfs "$0"`,
    'exec "$1" --conditions=@muted-pond/source --import tsx src/main.ts',
  ].join(' && ');
  const apart = process.getuid?.() === 0 ? ['-m'] : ['-U', '-r', '-m'];
  child = spawn('unshare', [...apart, 'sh', '-c', line, mount, process.execPath], {
    cwd: new URL('..', import.meta.url),
    env: {
      ...process.env,
      MUTED_POND_PORT: '0',
      MUTED_POND_PRACTICE_PORT: '',
      MUTED_POND_DATA: join(mount, 'data'),
      MUTED_POND_WEB: '',
    },
    stdio: ['ignore', 'pipe', 'inherit'],
  });
  for await (const text of createInterface({ input: child.stdout as NodeJS.ReadableStream })) {
    const found = /http:\/\/localhost:\d+/.exec(text)?.[0];
    if (found) {
      url = found;
      break;
    }
  }
  child.stdout?.resume();
  // From outside the disk is seen through the process.
  inside = `/proc/${child.pid}/root${mount}`;
});

afterAll(async () => {
  child.kill('SIGKILL');
  if (child.exitCode === null && child.signalCode === null) await once(child, 'exit');
  clips.remove();
  rmSync(mount, { recursive: true, force: true });
});

const api = (path: string) => `${url}/api/${path}`;

async function ask<T>(method: string, path: string, body?: unknown): Promise<{ status: number; body: T }> {
  const response = await fetch(api(path), {
    method,
    ...(body === undefined
      ? {}
      : { headers: { 'content-type': 'application/json' }, body: JSON.stringify(body) }),
  });
  const text = await response.text();
  return { status: response.status, body: (text ? JSON.parse(text) : undefined) as T };
}

async function post<T>(path: string, bytes: Uint8Array): Promise<{ status: number; body: T }> {
  const headers = { 'content-type': 'application/octet-stream' };
  const response = await fetch(api(path), { method: 'POST', headers, body: bytes });
  return { status: response.status, body: (await response.json()) as T };
}

async function resumable(bytes: Uint8Array): Promise<number> {
  const headers = { 'tus-resumable': '1.0.0', 'upload-length': String(bytes.length) };
  const begun = await fetch(api('uploads'), { method: 'POST', headers });
  if (!begun.ok) return begun.status;
  const sent = await fetch(new URL(begun.headers.get('location') ?? '', url), {
    method: 'PATCH',
    headers: { ...headers, 'upload-offset': '0', 'content-type': 'application/offset+octet-stream' },
    body: bytes,
  });
  return sent.status;
}

let fillers = 0;

function fill(): void {
  const { bavail, bsize } = statfsSync(inside);
  try {
    writeFileSync(join(inside, `filler ${fillers++}`), new Uint8Array(bavail * bsize));
  } catch {
    // What fits is there.
  }
}

it('a full disk is told by everything that writes; nothing is lost, nothing ends, and all goes on when there is room', async () => {
  const clip = readFileSync(
    clips.make(
      'pond.mp4',
      '-f',
      'lavfi',
      '-i',
      'testsrc2=s=320x180:r=20:d=2',
      '-c:v',
      'libx264',
      '-crf',
      '12',
    ),
  );
  const { body: footage } = await post<FootageView>('footage?name=pond.mp4', clip);
  const { body: piece } = await ask<PieceView>('POST', 'pieces', { footage: footage.id });
  const recipe = {
    ...piece.recipe,
    weigh: changeWeigh(piece.recipe.weigh, {
      width: 320,
      frameRate: 20,
      gif: { settle: 0, squeeze: 0 },
    }),
  };
  await expect
    .poll(async () => (await ask<FootageView>('GET', `footage/${footage.id}`)).body.ready, {
      timeout: 30_000,
    })
    .toBe(true);
  fill();

  // Uploads, in one go and part by part.
  const other = clips.make('other.mp4', '-f', 'lavfi', '-i', 'testsrc=s=640x360:r=20:d=3', '-c:v', 'libx264');
  const bytes = readFileSync(other);
  const refused = await post<{ code: string; title: string }>('footage?name=other.mp4', bytes);
  expect([refused.status, refused.body.code]).toEqual([507, 'disk_full']);
  expect(refused.body.title).toContain('Free some space');
  expect(await resumable(bytes)).toBe(507);
  // Paint.
  const noise = sharp(Buffer.from(Array.from({ length: 300 * 200 * 3 }, (_, i) => (i * 7919) % 251)), {
    raw: { width: 300, height: 200, channels: 3 },
  });
  expect((await post('layers?name=paint.png', await noise.png().toBuffer())).status).toBe(507);
  // A trial cannot keep its file: it says so, and the server lives.
  const asked = await ask<TrialView>('POST', `pieces/${piece.id}/trials`, { recipe });
  if (asked.status === 201) {
    const state = async () =>
      (await ask<TrialView[]>('GET', `pieces/${piece.id}/trials`)).body.find(
        (one) => one.id === asked.body.id,
      )?.state;
    await expect.poll(state, { timeout: 60_000 }).not.toMatch(/^working$/);
    expect(await state()).not.toBe('done');
  } else expect(asked.status).toBe(507);
  // Saves: written down, or refused; never something between.
  let acknowledged = 0;
  for (let i = 0; i < 40; i++) {
    const name = `Pond ${'x'.repeat(90)} ${i}`;
    const saved = await ask<PieceView>('PUT', `pieces/${piece.id}`, { revision: acknowledged, name, recipe });
    expect([200, 507]).toContain(saved.status);
    if (saved.status === 200) acknowledged++;
  }
  // A frame that is not kept yet is shown all the same.
  rmSync(join(inside, 'data', 'cache'), { recursive: true, force: true });
  fill();
  expect((await fetch(api(`footage/${footage.id}/frames/3`))).status).toBe(200);
  expect((await ask('POST', 'health/backup')).status).toBe(507);
  expect(child.exitCode).toBeNull();

  for (let i = 0; i < fillers; i++) rmSync(join(inside, `filler ${i}`), { force: true });
  const kept = await ask<PieceView>('GET', `pieces/${piece.id}`);
  expect(kept.body.revision).toBe(acknowledged);
  expect((await post('footage?name=other.mp4', bytes)).status).toBe(201);
  const again = await ask<TrialView>('POST', `pieces/${piece.id}/trials`, { recipe });
  await expect
    .poll(
      async () =>
        (await ask<TrialView[]>('GET', `pieces/${piece.id}/trials`)).body.find(
          (one) => one.id === again.body.id,
        )?.state,
      { timeout: 60_000 },
    )
    .toBe('done');
  for (const end of ['', '-wal']) {
    const name = `muted-pond.sqlite${end}`;
    writeFileSync(join(clips.path, name), readFileSync(join(inside, 'data', name)));
  }
  const database = new Database(join(clips.path, 'muted-pond.sqlite'));
  expect(database.pragma('integrity_check', { simple: true })).toBe('ok');
  database.close();
}, 180_000);
