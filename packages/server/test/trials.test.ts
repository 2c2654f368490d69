import { mkdtempSync, rmSync } from 'node:fs';
import { readFile } from 'node:fs/promises';
import { availableParallelism, tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import type { PieceView, TrialView } from '@muted-pond/core/api';
import { fileKey } from '@muted-pond/core/derived';
import { joinOf } from '@muted-pond/core/loop';
import { changeWeigh, type Recipe } from '@muted-pond/core/recipe';
import { DataSource } from 'typeorm';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { readWithFfmpeg } from '../../core/src/testing/independent-readers.js';
import { databaseOptions } from '../src/database/options.js';
import { JobPool } from '../src/jobs/index.js';
import { Job } from '../src/jobs/job.entity.js';
import { Trial, TrialsService } from '../src/trials/index.js';
import { letterOf } from '../src/trials/trial-view.js';
import { finishedTrial, makeOld, pieceOver, startApp, type TestApp } from './app.js';
import { type ClipFolder, clipFolder } from './clips.js';

let app: TestApp;
let clips: ClipFolder;
let clip: string;

beforeAll(async () => {
  app = await startApp();
  clips = clipFolder();
  clip = clips.make(
    'pond.mp4',
    '-f',
    'lavfi',
    '-i',
    'testsrc2=s=320x180:r=25:d=2',
    '-c:v',
    'libx264',
    '-crf',
    '18',
  );
});

afterAll(async () => {
  clips.remove();
  await app.stop();
});

/** What the demo puts on an empty shelf, newest first. */
const DEMO_PIECES = [
  'First kettle of the day',
  'Lantern over the landing',
  'Wind bell, upright',
  'Carp, circling',
  'Autumn menu panels',
  'Market stalls',
  'How to keep a table',
  'Osier Lane badge',
  'Boat day, an old loop',
];

describe('trials', () => {
  it('make the file that the figures say, and the same recipe again costs nothing', async () => {
    const { piece } = await pieceOver(app, clip, 'pond.mp4');
    const recipe = {
      ...piece.recipe,
      span: { start: 10, end: 35 },
      weigh: { ...piece.recipe.weigh, width: 160, frameRate: 10 },
    };
    const trial = await finishedTrial(app, piece.id, recipe);
    expect(trial).toMatchObject({ state: 'done', letter: 'A', progress: null });
    const response = await fetch(
      `${app.url}/api/trials/${trial.id}/file?saveAs=${encodeURIComponent('Té "1".gif')}`,
    );
    const bytes = new Uint8Array(await response.arrayBuffer());
    expect(response.headers.get('content-type')).toBe('image/gif');
    expect(response.headers.get('content-disposition')).toContain('attachment');
    expect(bytes.length).toBe(trial.figures?.bytes);
    const read = readWithFfmpeg(bytes, 160, 90);
    expect(read.delaysCs.reduce((sum, delay) => sum + delay, 0)).toBe(100);
    expect(trial.figures).toMatchObject({ width: 160, height: 90, frames: 10, durationMs: 1000 });
    expect(trial.figures?.likeness).toBeGreaterThan(0.8);

    const again = await app.ask<TrialView>('POST', `pieces/${piece.id}/trials`, { recipe });
    expect(again.body).toMatchObject({ id: trial.id, state: 'done' });
    expect((await app.ask<TrialView[]>('GET', `pieces/${piece.id}/trials`)).body).toHaveLength(1);
  });

  it('tell how far they are, and a change puts an end to the one in the making', async () => {
    const { piece } = await pieceOver(app, clip, 'pond.mp4');
    const slow = { ...piece.recipe, weigh: { ...piece.recipe.weigh, width: 320, frameRate: 25 } };
    const working = app.event((event) => event.type === 'trial' && event.trial.state === 'working');
    const first = await app.ask<TrialView>('POST', `pieces/${piece.id}/trials`, { recipe: slow });
    const progress = (await working) as { trial: TrialView };
    expect(progress.trial.progress?.done).toBeGreaterThan(0);
    const gone = app.event((event) => event.type === 'trial-gone' && event.id === first.body.id);
    const trial = await finishedTrial(app, piece.id, { ...slow, weigh: { ...slow.weigh, width: 64 } });
    await gone;
    expect(trial.state).toBe('done');
    const left = await app.ask<TrialView[]>('GET', `pieces/${piece.id}/trials`);
    expect(left.body.map((row) => row.id)).toEqual([trial.id]);
  });

  it('show their file while it is still being measured', async () => {
    const { piece } = await pieceOver(app, clip, 'pond.mp4');
    const recipe = { ...piece.recipe, weigh: { ...piece.recipe.weigh, width: 320, frameRate: 25 } };
    const ready = app.event((event) => event.type === 'trial' && event.trial.progress?.file !== undefined);
    const ended = finishedTrial(app, piece.id, recipe);
    const { trial } = (await ready) as { trial: TrialView };
    expect(trial).toMatchObject({ state: 'working', figures: null });
    expect(trial.progress?.file).toMatchObject({ kind: 'gif', width: 320, height: 180 });
    const early = await fetch(`${app.url}/api/trials/${trial.id}/file`);
    expect(early.status).toBe(200);
    expect(early.headers.get('content-type')).toBe('image/gif');
    const bytes = new Uint8Array(await early.arrayBuffer());
    expect(bytes.length).toBe(trial.progress?.file?.bytes);
    expect((await ended).progress).toBeNull();
    const kept = await fetch(`${app.url}/api/trials/${trial.id}/file`);
    expect(new Uint8Array(await kept.arrayBuffer())).toEqual(bytes);
  });

  it('can be cancelled', async () => {
    const { piece } = await pieceOver(app, clip, 'pond.mp4');
    const weigh = changeWeigh(piece.recipe.weigh, { kind: 'avif', width: 320, avif: { quality: 95 } });
    const recipe = { ...piece.recipe, weigh, span: { start: 0, end: 50 } };
    const working = app.event((event) => event.type === 'trial' && event.trial.state === 'working');
    const { body } = await app.ask<TrialView>('POST', `pieces/${piece.id}/trials`, { recipe });
    await working;
    const { running } = app.nest.get(JobPool);
    expect(Atomics.load(running, 0)).toBeGreaterThan(0);
    expect((await app.ask('DELETE', `trials/${body.id}`)).status).toBe(200);
    expect((await app.ask<TrialView[]>('GET', `pieces/${piece.id}/trials`)).body).toEqual([]);
    expect((await app.ask('GET', `trials/${body.id}/file`)).status).toBe(404);
    // Its thread is free again; nothing of it is told any more, and no file is kept.
    await expect.poll(() => Atomics.load(running, 0), { timeout: 10_000 }).toBe(0);
    expect(await app.nest.get(DataSource).getRepository(Trial).findBy({ id: body.id })).toEqual([]);
    expect(await app.nest.get(DataSource).getRepository(Job).findBy({ pieceId: piece.id })).toEqual([]);
  });

  it('that wait among many are made next when somebody looks at one of them', async () => {
    const trials = app.nest.get(TrialsService);
    const rows = app.nest.get(DataSource).getRepository(Job);
    const made: { id: string; piece: PieceView; recipe: Recipe }[] = [];
    // More than run at once.
    for (let i = 0; i < 2 * availableParallelism() + 2; i++) {
      const { piece } = await pieceOver(app, clip, 'pond.mp4');
      const recipe = { ...piece.recipe, weigh: { ...piece.recipe.weigh, width: 200 + i } };
      const { id } = await trials.request(piece.id, recipe, 'batch');
      made.push({ id, piece, recipe });
    }
    const last = made[made.length - 1];
    const kinds = async () => (await rows.findBy({ pieceId: last.piece.id })).map(({ kind }) => kind);
    expect(await kinds()).toEqual(['trial-batch']);
    const asked = await trials.request(last.piece.id, last.recipe);
    expect(asked).toMatchObject({ id: last.id, letter: 'A' });
    expect(await kinds()).toEqual(['trial']);
    for (const { id } of made.slice(0, -1)) await trials.delete(id);
    await trials.finished(last.id);
    expect((await trials.view(last.id)).state).toBe('done');
  });

  it('that cannot be made say why', async () => {
    const { piece } = await pieceOver(app, clip, 'pond.mp4');
    const trial = await finishedTrial(app, piece.id, { ...piece.recipe, span: { start: 0, end: 400 } });
    expect(trial).toMatchObject({
      state: 'failed',
      problem: expect.stringContaining('50 frames of the footage'),
    });
  });

  it('are one for each file and each letter, however many are asked for at once', async () => {
    const { piece } = await pieceOver(app, clip, 'pond.mp4');
    const recipes = [1, 2, 3, 1, 2, 3, 1, 1].map((plays) => ({ ...piece.recipe, plays }));
    const asked = await Promise.all(
      recipes.map((recipe) => app.ask<TrialView>('POST', `pieces/${piece.id}/trials`, { recipe })),
    );
    expect(asked.map(({ status }) => status)).toEqual(recipes.map(() => 201));
    const rows = await app.nest.get(DataSource).getRepository(Trial).findBy({ pieceId: piece.id });
    for (const part of ['key', 'ordinal'] as const) {
      expect(new Set(rows.map((row) => row[part])).size).toBe(rows.length);
    }
    expect(await finishedTrial(app, piece.id, recipes[0])).toMatchObject({ state: 'done' });
  });

  it('keep what is changed of them while they are made anew', async () => {
    const { piece } = await pieceOver(app, clip, 'pond.mp4');
    const trial = await finishedTrial(app, piece.id, piece.recipe);
    const rows = app.nest.get(DataSource).getRepository(Trial);
    await rows.update(trial.id, { state: 'interrupted' });
    const [, named] = await Promise.all([
      app.ask('POST', `pieces/${piece.id}/trials`, { recipe: piece.recipe }),
      app.ask<TrialView>('PATCH', `trials/${trial.id}`, { name: 'Good', pinned: true }),
    ]);
    expect(named.body).toMatchObject({ name: 'Good', pinned: true });
    expect(await finishedTrial(app, piece.id, piece.recipe)).toMatchObject({
      ...{ id: trial.id, name: 'Good', pinned: true, state: 'done' },
    });
  });

  it('have letters that go on', () => {
    expect([0, 25, 26, 51, 52, 701, 702].map(letterOf)).toEqual(['A', 'Z', 'AA', 'AZ', 'BA', 'ZZ', 'AAA']);
  });

  it('carry the key of their file, and are found again by it whatever other kinds of file are set to', async () => {
    const { piece } = await pieceOver(app, clip, 'pond.mp4');
    const trial = await finishedTrial(app, piece.id, piece.recipe);
    expect(trial.key).toBe(fileKey(piece.recipe));
    const weigh = changeWeigh(piece.recipe.weigh, { webp: { quality: 31 } });
    const again = await finishedTrial(app, piece.id, { ...piece.recipe, weigh });
    expect([again.id, again.key]).toEqual([trial.id, fileKey({ ...piece.recipe, weigh })]);
  });
});

describe('the shelf', () => {
  it('plays the file of each piece’s present recipe, or else its newest', async () => {
    const { piece } = await pieceOver(app, clip, 'pond.mp4');
    const width = (px: number) => ({ ...piece.recipe, weigh: { ...piece.recipe.weigh, width: px } });
    const first = await finishedTrial(app, piece.id, width(48));
    const second = await finishedTrial(app, piece.id, width(64));
    const shown = async () =>
      (await app.ask<TrialView[]>('GET', 'trials/shown')).body.find((trial) => trial.piece === piece.id)?.id;
    expect(await shown()).toBe(second.id);
    await app.ask('PUT', `pieces/${piece.id}`, { revision: 0, name: 'Pond', recipe: width(48) });
    expect(await shown()).toBe(first.id);
  });
});

describe('pieces', () => {
  it('refuse a save that came from an older revision, and hand over the newer', async () => {
    const { piece } = await pieceOver(app, clip, 'pond.mp4');
    const save = (revision: number, name: string) =>
      app.ask<PieceView & { code: string; current: PieceView }>('PUT', `pieces/${piece.id}`, {
        revision,
        name,
        recipe: piece.recipe,
      });
    expect((await save(0, 'One')).body).toMatchObject({ name: 'One', revision: 1 });
    const stale = await save(0, 'Two');
    expect(stale.status).toBe(409);
    expect(stale.body).toMatchObject({ code: 'stale', current: { name: 'One', revision: 1 } });
    expect((await save(1, 'Two')).body.revision).toBe(2);
  });

  it('refuse a span beyond the footage', async () => {
    const { piece } = await pieceOver(app, clip, 'pond.mp4');
    const recipe = { ...piece.recipe, span: { start: 0, end: 51 } };
    const { status, body } = await app.ask<{ title: string }>('PUT', `pieces/${piece.id}`, {
      revision: 0,
      name: 'x',
      recipe,
    });
    expect(status).toBe(422);
    expect(body.title).toContain('has 50');
  });

  it('can be deleted, put back and duplicated', async () => {
    const { piece } = await pieceOver(app, clip, 'pond.mp4');
    const ids = async () => (await app.ask<PieceView[]>('GET', 'pieces')).body.map((row) => row.id);
    await app.ask('DELETE', `pieces/${piece.id}`);
    expect(await ids()).not.toContain(piece.id);
    await app.ask('POST', `pieces/${piece.id}/restore`);
    expect(await ids()).toContain(piece.id);
    const twin = (await app.ask<PieceView>('POST', `pieces/${piece.id}/duplicate`)).body;
    expect(twin.recipe).toEqual(piece.recipe);
    expect(twin.id).not.toBe(piece.id);
  });
});

describe('a database of an earlier version', () => {
  it('loses doubles of a trial but the best one, and gives doubled letters anew', async () => {
    const folder = mkdtempSync(join(tmpdir(), 'muted-pond-doubles-'));
    const file = join(folder, 'old.sqlite');
    const { migrations, ...options } = databaseOptions(file) as { migrations: readonly { name: string }[] };
    const before = migrations.filter(({ name }) => !name.startsWith('UniqueTrials'));
    const open = (all: readonly unknown[]) =>
      new DataSource({ ...options, migrations: all } as never).initialize();
    try {
      const old = await open(before);
      const insert = (id: string, ordinal: number, key: string, state: string, pinned: number) =>
        old.query(
          `INSERT INTO trial (id, pieceId, ordinal, key, state, recipe, createdAt, pinned) VALUES (?, 'p', ?, ?, ?, '{}', ?, ?)`,
          [id, ordinal, key, state, `2026-11-0${ordinal + 1}`, pinned],
        );
      await old.query(
        `INSERT INTO piece (id, name, about, recipe, revision, createdAt, updatedAt) VALUES ('p', 'Pond', '', '{}', 0, '', '')`,
      );
      await insert('waiting double', 0, 'same', 'waiting', 0);
      await insert('finished double', 1, 'same', 'done', 0);
      await insert('pinned double', 2, 'same', 'interrupted', 1);
      await insert('first C', 2, 'other', 'done', 0);
      await insert('D', 3, 'third', 'done', 0);
      await old.destroy();
      const now = await open(migrations);
      const rows: { id: string; ordinal: number }[] = await now.query(
        'SELECT id, ordinal FROM trial ORDER BY ordinal',
      );
      await now.destroy();
      expect(rows.map(({ id }) => id).sort()).toEqual(['D', 'first C', 'pinned double']);
      expect(new Set(rows.map(({ ordinal }) => ordinal)).size).toBe(3);
      expect(rows.find(({ id }) => id === 'D')?.ordinal).toBe(3);
    } finally {
      rmSync(folder, { recursive: true, force: true });
    }
  });
});

describe('across a stop', () => {
  it('keeps pieces and trials, marks what was cut off, sweeps what nobody needs', async () => {
    const first = await startApp();
    const { piece } = await pieceOver(first, clip, 'pond.mp4');
    const done = await finishedTrial(first, piece.id, {
      ...piece.recipe,
      weigh: { ...piece.recipe.weigh, width: 48 },
    });
    const { body: cut } = await first.ask<TrialView>('POST', `pieces/${piece.id}/trials`, {
      recipe: piece.recipe,
    });
    await first.stop(true);

    const second = await startApp({ dataDir: first.dataDir });
    try {
      const trials = (await second.ask<TrialView[]>('GET', `pieces/${piece.id}/trials`)).body;
      expect(trials.find((trial) => trial.id === done.id)?.state).toBe('done');
      expect(trials.find((trial) => trial.id === cut.id)).toMatchObject({ state: 'interrupted' });
      const again = await finishedTrial(second, piece.id, piece.recipe);
      expect(again).toMatchObject({ state: 'done', letter: 'B' });
      expect(await second.keptFiles()).toHaveLength(3);
      await second.ask('DELETE', `trials/${done.id}`);
    } finally {
      await second.stop(true);
    }
    await makeOld(first.dataDir);
    const third = await startApp({ dataDir: first.dataDir });
    try {
      expect(await third.keptFiles()).toHaveLength(2);
    } finally {
      await third.stop();
    }
  });

  it('has tables as the entities say: nothing is left to migrate', async () => {
    const database = new DataSource(databaseOptions(':memory:'));
    await database.initialize();
    try {
      const pending = await database.driver.createSchemaBuilder().log();
      expect(pending.upQueries).toEqual([]);
    } finally {
      await database.destroy();
    }
  });

  it('puts the demo on an empty shelf once', async () => {
    const demoDir = fileURLToPath(new URL('../../../demo', import.meta.url));
    const demo = await startApp({ demoDir });
    const pieces = (await demo.ask<PieceView[]>('GET', 'pieces')).body;
    expect(pieces.map(({ name }) => name)).toEqual(DEMO_PIECES);
    // What is woven takes longest, and keeps no other waiting.
    const asked = await Promise.all(
      pieces.map(async ({ id, name, recipe }) => {
        const [trial] = (await demo.ask<TrialView[]>('GET', `pieces/${id}/trials`)).body;
        return { name, isWoven: joinOf(recipe.loop.join).woven !== undefined, at: trial.createdAt };
      }),
    );
    const [woven, ...more] = asked.filter(({ isWoven }) => isWoven);
    expect([woven.name, more]).toEqual(['First kettle of the day', []]);
    expect(asked.filter(({ at }) => at > woven.at)).toEqual([]);
    await demo.stop(true);
    const again = await startApp({ dataDir: demo.dataDir, demoDir });
    expect((await again.ask<PieceView[]>('GET', 'pieces')).body).toHaveLength(DEMO_PIECES.length);
    await again.stop();
    expect((await readFile(`${demoDir}/footage/lantern.mp4`)).length).toBeLessThan(3e6);
  });
});
