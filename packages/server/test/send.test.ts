import { randomBytes } from 'node:crypto';
import { chmodSync, mkdtempSync, readdirSync, readlinkSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { delimiter, join } from 'node:path';
import type { KindsView, PieceView, TrialView } from '@muted-pond/core/api';
import { SENT_KINDS } from '@muted-pond/core/files';
import { createFrame, type PixelFrame } from '@muted-pond/core/pixels';
import { changeWeigh, type Recipe } from '@muted-pond/core/recipe';
import sharp from 'sharp';
import { DataSource } from 'typeorm';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { fromBuffer } from 'yauzl';
import { BlobStore } from '../src/blobs/index.js';
import { type MovieWish, movieTimes, startMovie } from '../src/encoding/index.js';
import { checkKind } from '../src/making/check-kind.js';
import { openScratch, sweepScratch } from '../src/scratch/index.js';
import { Trial } from '../src/trials/index.js';
import { finishedTrial, type Problem, pieceOver, startApp, type TestApp } from './app.js';
import { type ClipFolder, clipFolder, NUMBERED_WIDTH, numberedFrames, readNumber } from './clips.js';

let app: TestApp;
let clips: ClipFolder;
let piece: PieceView;
let recipe: Recipe;

beforeAll(async () => {
  app = await startApp();
  clips = clipFolder();
  const clip = clips.make('numbered.mkv', ...numberedFrames(20, 10), '-c:v', 'ffv1');
  piece = (await pieceOver(app, clip, 'numbered.mkv')).piece;
  recipe = {
    ...piece.recipe,
    span: { start: 0, end: 8 },
    weigh: changeWeigh(piece.recipe.weigh, { frameRate: 10 }),
  };
});
afterAll(async () => {
  clips.remove();
  await app.stop();
});

async function allKinds(): Promise<KindsView> {
  const ended = app.event(
    (event) => event.type === 'kinds' && event.kinds.piece === piece.id && event.kinds.state !== 'working',
  );
  const { status } = await app.ask('POST', `pieces/${piece.id}/kinds`, { recipe });
  expect(status).toBe(201);
  return ((await ended) as { kinds: KindsView }).kinds;
}

const trialsNow = async () => (await app.ask<TrialView[]>('GET', `pieces/${piece.id}/trials`)).body;

describe('all kinds of a loop', () => {
  it('are made one after the other, and stand among the trials with figures of their own', async () => {
    const view = await allKinds();
    expect(view).toMatchObject({ state: 'done', done: 1, problem: null });
    expect(view.made.map(({ kind }) => kind)).toEqual(SENT_KINDS);
    const trials = await trialsNow();
    for (const { kind, trial: id, problem } of view.made) {
      expect(problem).toBeNull();
      const { figures, recipe: own } = trials.find((trial) => trial.id === id) as TrialView;
      expect([figures?.kind, own.weigh.kind]).toEqual([kind, kind]);
      expect(figures?.likeness).toBeGreaterThan(0.9);
      expect(figures?.frameBytes.length).toBe(kind === 'poster' ? 1 : 8);
      const response = await fetch(`${app.url}/api/trials/${id}/file`);
      expect((await response.arrayBuffer()).byteLength).toBe(figures?.bytes);
      expect(response.headers.get('content-type')).toMatch(
        kind === 'mp4' || kind === 'webm' ? /^video/ : /^image/,
      );
    }
    // What was made already is not made again.
    const again = await allKinds();
    expect(again.made).toEqual(view.made);
  });

  it('are taken apart anew after the cache was thrown away', async () => {
    const { id } = await finishedTrial(app, piece.id, {
      ...recipe,
      weigh: changeWeigh(recipe.weigh, { kind: 'webp' }),
    });
    const first = await fetch(`${app.url}/api/trials/${id}/pictures/2`);
    expect(first.status).toBe(200);
    rmSync(join(app.dataDir, 'cache'), { recursive: true, force: true });
    expect((await fetch(`${app.url}/api/trials/${id}/pictures/2`)).status).toBe(200);
  });

  it('are seen picture by picture, each at its place', async () => {
    for (const kind of ['webp', 'apng', 'avif', 'mp4', 'webm', 'frames'] as const) {
      const { id } = await finishedTrial(app, piece.id, {
        ...recipe,
        weigh: changeWeigh(recipe.weigh, { kind }),
      });
      for (const place of [0, 3, 7]) {
        const png = Buffer.from(
          await (await fetch(`${app.url}/api/trials/${id}/pictures/${place}`)).arrayBuffer(),
        );
        const pixels = await sharp(png).ensureAlpha().raw().toBuffer();
        expect(readNumber(pixels, 4, NUMBERED_WIDTH), `${kind}, ${place}`).toBe(place);
      }
      expect((await app.ask<Problem>('GET', `trials/${id}/pictures/8`)).status).toBe(404);
    }
  });
});

describe('files saved together', () => {
  function entriesOf(zip: Buffer): Promise<string[]> {
    return new Promise((resolve, reject) => {
      const names: string[] = [];
      fromBuffer(zip, (error, file) => {
        if (error) return reject(error);
        file.on('entry', ({ fileName }) => names.push(fileName));
        file.on('end', () => resolve(names));
        file.on('error', reject);
      });
    });
  }

  const packed = (body: object) =>
    fetch(`${app.url}/api/packages`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify(body),
    });

  it('are let go of when whoever saves them goes', async () => {
    const trial = await finishedTrial(app, piece.id, recipe);
    // Larger than what lies in buffers on the way.
    const blob = await app.nest.get(BlobStore).put(randomBytes(48 * 1024 ** 2));
    await app.nest.get(DataSource).getRepository(Trial).update(trial.id, { blob });
    const holding = () =>
      readdirSync('/proc/self/fd').filter((name) => {
        try {
          return readlinkSync(`/proc/self/fd/${name}`).includes(blob);
        } catch {
          return false;
        }
      });
    const leaving = new AbortController();
    const response = await fetch(`${app.url}/api/packages`, {
      ...{ method: 'POST', signal: leaving.signal, headers: { 'content-type': 'application/json' } },
      body: JSON.stringify({ files: [{ trial: trial.id, name: 'large.gif' }], texts: [] }),
    });
    const reader = response.body?.getReader();
    await reader?.read();
    expect(holding()).toHaveLength(1);
    leaving.abort();
    await expect(reader?.read()).rejects.toThrow();
    await expect.poll(holding, { timeout: 1000 }).toEqual([]);
  });

  it('whose names are long in bytes can be unpacked', async () => {
    const { id } = await finishedTrial(app, piece.id, recipe);
    const name = `${'水'.repeat(100)}.gif`;
    const response = await packed({ files: [{ trial: id, name }], texts: [{ name, text: 'x' }] });
    const names = await entriesOf(Buffer.from(await response.arrayBuffer()));
    expect(new Set(names).size).toBe(2);
    const folder = mkdtempSync(join(tmpdir(), 'muted-pond-unpacked-'));
    try {
      for (const one of names) {
        expect(Buffer.byteLength(one)).toBeLessThanOrEqual(200);
        // The file system takes the name as it stands.
        writeFileSync(join(folder, one), '');
      }
    } finally {
      rmSync(folder, { recursive: true, force: true });
    }
  });

  it('are a ZIP in which no name stands twice or leads out of it', async () => {
    const { id } = await finishedTrial(app, piece.id, recipe);
    const response = await packed({
      files: [
        { trial: id, name: 'loop.gif' },
        { trial: id, name: 'Loop.gif' },
        { trial: id, name: '../../loop.gif' },
      ],
      texts: [{ name: 'index.html', text: '<!doctype html>' }],
    });
    expect(response.status).toBe(200);
    const names = await entriesOf(Buffer.from(await response.arrayBuffer()));
    expect(names).toHaveLength(4);
    expect(new Set(names.map((name) => name.toLowerCase())).size).toBe(4);
    expect(names.join()).not.toMatch(/[/\\]/);
    expect(names).toContain('index.html');
  });

  it('of which one is gone are not begun', async () => {
    const response = await packed({ files: [{ trial: 'nothing', name: 'a.gif' }], texts: [] });
    expect(response.status).toBe(404);
    expect((await packed({ files: [], texts: [] })).status).toBe(400);
  });
});

describe('alternative text', () => {
  it('is kept with the piece, also in its copy', async () => {
    const saved = await app.ask<PieceView>('PUT', `pieces/${piece.id}`, {
      ...{ revision: piece.revision, name: piece.name, recipe: piece.recipe, about: 'Numbers go by.' },
    });
    expect(saved.body.about).toBe('Numbers go by.');
    const copy = await app.ask<PieceView>('POST', `pieces/${piece.id}/duplicate`);
    expect(copy.body.about).toBe('Numbers go by.');
    // Who does not send it leaves it as it is.
    const { body } = await app.ask<PieceView>('PUT', `pieces/${piece.id}`, {
      ...{ revision: saved.body.revision, name: 'Numbers', recipe: piece.recipe },
    });
    expect([body.name, body.about]).toEqual(['Numbers', 'Numbers go by.']);
  });
});

describe('what a kind cannot hold is said before anything is made', () => {
  const of = (kind: 'webp' | 'mp4' | 'webm' | 'gif') => ({
    ...recipe,
    weigh: changeWeigh(recipe.weigh, { kind }),
  });
  const usual = { size: { width: 480, height: 270 }, frames: 12, mayBeClear: false };

  it.each([
    ['webp', { size: { width: 100, height: 16_384 } }, '16383 px a side. Lower the width'],
    ['mp4', { frames: 1 }, 'Widen the span in Cut, or choose a poster'],
    ['webm', { frames: 1 }, 'is a movie'],
    ['mp4', { mayBeClear: true }, 'Choose a colour that shows behind it'],
  ] as const)('%s with %o', (kind, part, words) => {
    expect(() => checkKind(of(kind), { ...usual, ...part })).toThrow(words);
  });

  it('and what it can hold is let through', () => {
    for (const kind of ['webp', 'mp4', 'webm', 'gif'] as const)
      expect(() => checkKind(of(kind), usual)).not.toThrow();
    const solid = { ...of('mp4'), weigh: changeWeigh(of('mp4').weigh, { matte: '#ffffff' }) };
    expect(() => checkKind(solid, { ...usual, mayBeClear: true })).not.toThrow();
  });
});

describe('an encoder', () => {
  const frames = Array.from(
    { length: 12 },
    (_, n): PixelFrame =>
      createFrame(
        64,
        48,
        Uint8Array.from({ length: 64 * 48 * 4 }, (__, i) => (i % 4 === 3 ? 255 : (i * n) % 251)),
      ),
  );
  const wish: MovieWish = {
    ...{ encoder: 'libx264', container: 'mp4', size: { width: 64, height: 48 }, rounds: 1 },
    times: movieTimes(
      frames.map((_, source) => ({ source, delayCs: 10 })),
      1,
    ),
    filters: ['format=yuv420p'],
    options: ['-preset', 'ultrafast'],
    onFrame: () => {},
  };
  const left = () =>
    readdirSync(tmpdir()).filter((name) => name.startsWith(`muted-pond-making-${process.pid}-`));

  it('stays under a number of bytes in two passes, or says that it cannot', async () => {
    const movie = await startMovie({ ...wish, mostBytes: 9_000 });
    await movie.add(frames);
    expect((await movie.finish()).length).toBeLessThanOrEqual(9_000);
    const tiny = await startMovie({ ...wish, mostBytes: 1_300 });
    await tiny.add(frames);
    await expect(tiny.finish()).rejects.toThrow('Even at the lowest bit rate');
    expect(left()).toEqual([]);
  });

  it('that fails half-way is told of in a sentence, and leaves nothing', async () => {
    const movie = await startMovie({ ...wish, options: ['-profile:v', 'no such profile'] });
    const going = movie.add(frames).then(() => movie.finish());
    await expect(going).rejects.toMatchObject({ code: 'encoder_failed' });
    await movie.abandon();
    expect(left()).toEqual([]);
  });

  it('that is stopped leaves nothing', async () => {
    const movie = await startMovie(wish);
    await movie.add(frames.slice(0, 3));
    await movie.abandon();
    expect(left()).toEqual([]);
  });

  it('that is missing is said by name, with what to do', async () => {
    // An ffmpeg that has no encoder at all stands before the real one.
    const folder = mkdtempSync(join(tmpdir(), 'muted-pond-poor-ffmpeg-'));
    const path = process.env.PATH;
    writeFileSync(join(folder, 'ffmpeg'), '#!/bin/sh\necho " V..... mpeg1video"\n');
    chmodSync(join(folder, 'ffmpeg'), 0o755);
    process.env.PATH = `${folder}${delimiter}${path}`;
    try {
      const { forgetEncoders } = await import('../src/encoding/encoders.js');
      forgetEncoders();
      await expect(startMovie(wish)).rejects.toMatchObject({
        code: 'encoder_missing',
        message: expect.stringContaining('cannot make MP4 (it has no libx264). Choose another kind of file'),
      });
      const { body } = await app.ask<{ missingKinds: Record<string, string> }>('GET', 'health');
      expect(Object.keys(body.missingKinds).sort()).toEqual(['avif', 'mp4', 'webm']);
      forgetEncoders();
    } finally {
      process.env.PATH = path;
      rmSync(folder, { recursive: true, force: true });
    }
  });

  it('of a process that is no more leaves nothing behind for long', async () => {
    const folder = mkdtempSync(join(tmpdir(), 'muted-pond-sweep-'));
    try {
      // No process has this number: they end far below.
      writeFileSync(join(folder, 'muted-pond-making-99999999-a'), '');
      writeFileSync(join(folder, `muted-pond-making-${process.pid}-b`), '');
      writeFileSync(join(folder, 'something-else'), '');
      await sweepScratch(folder);
      expect(readdirSync(folder).sort()).toEqual([`muted-pond-making-${process.pid}-b`, 'something-else']);
    } finally {
      rmSync(folder, { recursive: true, force: true });
    }
    const scratch = await openScratch();
    expect(left()).toHaveLength(1);
    await scratch.remove();
    expect(left()).toEqual([]);
  });
});
