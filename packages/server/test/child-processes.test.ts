import { spawn } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import { once } from 'node:events';
import { mkdirSync, mkdtempSync, readdirSync, rmSync, utimesSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { TrialView } from '@muted-pond/core/api';
import { changeWeigh, type Recipe } from '@muted-pond/core/recipe';
import { afterAll, afterEach, beforeAll, beforeEach, describe, expect, it, vi } from 'vitest';
import { PictureCache } from '../src/cache/index.js';
import { assertEncoder, forgetEncoders } from '../src/encoding/encoders.js';
import { runFfmpeg } from '../src/ffmpeg/index.js';
import { runInContext, Stopped } from '../src/job-context/index.js';
import { sweepScratch } from '../src/scratch/index.js';
import { pieceOver, startApp, type TestApp } from './app.js';
import { type ClipFolder, clipFolder } from './clips.js';
import { processesWith, scratchOf } from './processes.js';

describe('a child process', () => {
  it.each([
    ['process', 'no'],
    ['thread', 'yes'],
  ])('ends with the %s that started it', async (what, inThread) => {
    const mark = randomUUID();
    const parent = spawn(
      process.execPath,
      ['--conditions=@muted-pond/source', '--import', 'tsx', 'test/endless-child.ts'],
      {
        cwd: new URL('..', import.meta.url),
        env: { ...process.env, MARK: mark, IN_THREAD: inThread },
        stdio: ['ignore', 'inherit', 'inherit', 'ipc'],
      },
    );
    const ended = once(parent, 'exit');
    await vi.waitUntil(() => processesWith(mark).length > 0, 20_000);
    if (what === 'process') parent.kill('SIGKILL');
    else parent.send('end the thread');
    await vi.waitUntil(() => processesWith(mark).length === 0, 2000);
    parent.kill('SIGKILL');
    await ended;
  });

  it('that has ended leaves no watcher behind', async () => {
    const mark = randomUUID();
    const run = runFfmpeg('ffmpeg', ['-version', '-metadata', mark], 20_000);
    run.stdout.resume();
    await run.ended.catch(() => {});
    await vi.waitUntil(() => processesWith(mark, 'sh').length === 0, 2000);
  });
});

describe('what ffmpeg can encode', () => {
  it('is still known to the next job where the one that asked first is stopped meanwhile', async () => {
    forgetEncoders();
    const stopped = new AbortController();
    const context = { signal: stopped.signal, scratch: '', onChild: () => {} };
    const first = runInContext(context, () => assertEncoder('libx264'));
    stopped.abort(new Stopped());
    // It runs in the same thread, and finds the list asked for.
    const next = runInContext({ ...context, signal: new AbortController().signal }, () =>
      assertEncoder('libx264'),
    );
    await expect(next).resolves.toBeUndefined();
    await expect(first).resolves.toBeUndefined();
  });
});

describe('an encoder whose trial is cancelled', () => {
  let app: TestApp;
  let clips: ClipFolder;
  let clip: string;
  beforeAll(async () => {
    clips = clipFolder();
    clip = clips.make('long.mp4', '-f', 'lavfi', '-i', 'testsrc2=s=1280x720:r=20:d=3', '-c:v', 'libx264');
    app = await startApp();
  });
  afterAll(async () => {
    await app.stop();
    clips.remove();
  });

  const kinds: readonly (readonly [string, (recipe: Recipe) => Recipe['weigh']])[] = [
    ['repeated MP4', (recipe) => withKind(recipe, 'mp4', { repeatTo: 600 })],
    ['MP4 in two passes', (recipe) => withKind(recipe, 'mp4', { bytes: 900_000_000, repeatTo: 600 })],
    ['repeated WebM', (recipe) => withKind(recipe, 'webm', { repeatTo: 600 })],
    ['AVIF', (recipe) => withKind(recipe, 'avif', { quality: 100 })],
  ];

  it.each(kinds)('ends at once, and its folder goes: %s', async (_, weighOf) => {
    const { piece } = await pieceOver(app, clip, 'long.mp4');
    const recipe = { ...piece.recipe, span: { start: 0, end: 60 } };
    const { body } = await app.ask<TrialView>('POST', `pieces/${piece.id}/trials`, {
      recipe: { ...recipe, weigh: weighOf(recipe) },
    });
    const mark = `muted-pond-making-${process.pid}-`;
    await vi.waitUntil(() => processesWith(mark).length > 0, 50_000);
    await app.ask('DELETE', `trials/${body.id}`);
    await expect
      .poll(() => ({ left: processesWith(mark), scratch: scratchOf(process.pid) }), { timeout: 1500 })
      .toEqual({ left: [], scratch: [] });
    expect((await app.ask<TrialView[]>('GET', `pieces/${piece.id}/trials`)).body).toEqual([]);
  });
});

function withKind(recipe: Recipe, kind: 'mp4' | 'webm' | 'avif', settings: object): Recipe['weigh'] {
  const weigh = changeWeigh(recipe.weigh, { kind, width: 1280 });
  return { ...weigh, [kind]: { ...weigh[kind], ...settings } };
}

describe('what a process left half made', () => {
  let folder: string;
  beforeEach(() => {
    folder = mkdtempSync(join(tmpdir(), 'muted-pond-left-'));
  });
  afterEach(() => rmSync(folder, { recursive: true, force: true }));

  it('goes by its owner, and by its age whoever has that number now', async () => {
    for (const name of [`${process.pid}-young`, `${process.pid}-old`]) {
      mkdirSync(join(folder, `muted-pond-making-${name}`));
    }
    const longAgo = new Date(Date.now() - 2 * 86_400_000);
    utimesSync(join(folder, `muted-pond-making-${process.pid}-old`), longAgo, longAgo);
    await sweepScratch(folder);
    expect(readdirSync(folder)).toEqual([`muted-pond-making-${process.pid}-young`]);
  });

  it('goes from the cache at the start, and nothing else does', async () => {
    const cache = new PictureCache(folder);
    await cache.put('a'.repeat(64), 'frames', 3, Buffer.from('whole'));
    writeFileSync(join(folder, 'a'.repeat(64), 'frames', `${randomUUID()}.half`), 'ha');
    await cache.sweep(() => false);
    expect(readdirSync(join(folder, 'a'.repeat(64), 'frames'))).toEqual(['3']);
  });
});
