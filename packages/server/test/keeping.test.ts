import { existsSync, readdirSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import type {
  FootageView,
  HealthView,
  LayerView,
  PieceView,
  ShelfPiece,
  TrialView,
} from '@muted-pond/core/api';
import type { Recipe } from '@muted-pond/core/recipe';
import { NOTHING_HELD } from '@muted-pond/core/still';
import Database from 'better-sqlite3';
import sharp from 'sharp';
import { afterAll, afterEach, beforeAll, beforeEach, describe, expect, it, vi } from 'vitest';
import { Jobs } from '../src/jobs/index.js';
import { TrialsService } from '../src/trials/index.js';
import { finishedTrial, makeOld, pieceOver, startApp, type TestApp } from './app.js';
import { type ClipFolder, clipFolder } from './clips.js';

let app: TestApp;
let clips: ClipFolder;
let clip: string;

beforeAll(() => {
  clips = clipFolder();
  const source = ['-f', 'lavfi', '-i', 'testsrc2=s=320x180:r=20:d=1', '-c:v', 'libx264', '-crf', '16'];
  clip = clips.make('pond.mp4', ...source);
});
afterAll(() => clips.remove());

beforeEach(async () => {
  app = await startApp();
});
afterEach(() => app.stop());

const small = (recipe: Recipe, width = 64): Recipe => ({ ...recipe, weigh: { ...recipe.weigh, width } });

/** A recipe in which a painted mask says what moves. */
async function painted(recipe: Recipe, level = 200): Promise<{ recipe: Recipe; mask: string }> {
  const image = sharp({
    create: { width: 320, height: 180, channels: 3, background: { r: level, g: 0, b: 0 } },
  });
  const response = await fetch(`${app.url}/api/layers?name=paint.png`, {
    method: 'POST',
    headers: { 'content-type': 'application/octet-stream' },
    body: await image.png().toBuffer(),
  });
  const { hash } = (await response.json()) as LayerView;
  const edge = { grow: 0, feather: 0, invert: false, shown: true, loop: null };
  const ripple = { id: 'r', name: 'Ripple', mask: hash, outlines: [], ...edge };
  const still = {
    ...NOTHING_HELD,
    plate: { kind: 'frame' as const, frame: 0 },
    ripples: [ripple],
  };
  return { recipe: { ...small(recipe), still }, mask: hash };
}

async function savedWithPaint(): Promise<{ piece: PieceView; mask: string }> {
  const { piece } = await pieceOver(app, clip, 'pond.mp4');
  const { recipe, mask } = await painted(piece.recipe);
  const saved = await app.ask<PieceView>('PUT', `pieces/${piece.id}`, { revision: 0, name: 'Pond', recipe });
  expect(saved.status).toBe(200);
  return { piece: saved.body, mask };
}

/** Ends the server, lets someone work on its data, and starts it again. */
async function meanwhile(work: (dataDir: string) => void): Promise<void> {
  await app.stop(true);
  await makeOld(app.dataDir);
  work(app.dataDir);
  app = await startApp({ dataDir: app.dataDir });
}

function inDatabase(dataDir: string, sql: string, ...values: unknown[]): void {
  const database = new Database(join(dataDir, 'muted-pond.sqlite'));
  database.prepare(sql).run(...values);
  database.close();
}

const layerStatus = async (hash: string) => (await fetch(`${app.url}/api/layers/${hash}`)).status;

describe('paint that a recipe names stays', () => {
  it('when the recipe is of a newer version', async () => {
    const { piece, mask } = await savedWithPaint();
    await meanwhile((dataDir) =>
      inDatabase(
        dataDir,
        `UPDATE piece SET recipe = json_set(recipe, '$.version', 999) WHERE id = ?`,
        piece.id,
      ),
    );
    expect(await layerStatus(mask)).toBe(200);
  });

  it('when the recipe cannot even be parsed', async () => {
    const { piece, mask } = await savedWithPaint();
    await meanwhile((dataDir) =>
      inDatabase(
        dataDir,
        `UPDATE piece SET recipe = substr(recipe, 1, length(recipe) - 9) WHERE id = ?`,
        piece.id,
      ),
    );
    expect(await layerStatus(mask)).toBe(200);
    expect((await app.ask('GET', 'pieces')).status).toBe(200);
  });

  it('when the database is gone or empty', async () => {
    const { mask } = await savedWithPaint();
    const files = (await app.keptFiles()).length;
    await meanwhile((dataDir) => {
      for (const name of readdirSync(dataDir)) if (name.includes('.sqlite')) rmSync(join(dataDir, name));
    });
    expect(await layerStatus(mask)).toBe(200);
    expect((await app.keptFiles()).length).toBe(files);
  });

  it('and files come back into the library after the database is lost, masks aside', async () => {
    await savedWithPaint();
    const [video] = (await app.ask<FootageView[]>('GET', 'footage')).body;
    await meanwhile((dataDir) => {
      for (const name of readdirSync(dataDir)) if (name.includes('.sqlite')) rmSync(join(dataDir, name));
    });
    const health = async () => (await app.ask<HealthView>('GET', 'health')).body;
    expect(await health()).toEqual({ decoder: true, missingKinds: {}, unknownFiles: 2 });
    expect((await app.ask('POST', 'health/bring-back')).body).toEqual({ brought: 2 });
    const brought = (await app.ask<FootageView[]>('GET', 'footage')).body;
    expect(brought.map(({ id }) => id)).toContain(video.id);
    expect(brought.find(({ id }) => id === video.id)).toMatchObject({
      frameCount: 20,
      name: expect.stringMatching(/^found /),
    });
    expect((await health()).unknownFiles).toBe(0);
    expect((await app.ask('POST', 'health/bring-back')).body).toEqual({ brought: 0 });
  });

  it('and what nothing names goes into the bin, not away', async () => {
    await savedWithPaint();
    const { mask: loose } = await painted((await pieceOver(app, clip, 'pond.mp4')).piece.recipe, 90);
    await meanwhile(() => {});
    expect(await layerStatus(loose)).toBe(404);
    expect(existsSync(join(app.dataDir, 'bin', loose))).toBe(true);
  });
});

describe('a piece that cannot be read', () => {
  it('stands on the shelf among the others, says why, and gives its recipe as a file', async () => {
    const { piece: good } = await pieceOver(app, clip, 'pond.mp4');
    const { piece: bad } = await pieceOver(app, clip, 'pond.mp4');
    await meanwhile((dataDir) =>
      inDatabase(
        dataDir,
        `UPDATE piece SET recipe = json_set(recipe, '$.version', 999) WHERE id = ?`,
        bad.id,
      ),
    );
    const { status, body } = await app.ask<ShelfPiece[]>('GET', 'pieces');
    expect(status).toBe(200);
    expect(body.find(({ id }) => id === good.id)).toHaveProperty('recipe');
    expect(body.find(({ id }) => id === bad.id)).toMatchObject({
      name: bad.name,
      unreadable: expect.stringContaining('made by a later Muted Pond'),
    });
    const file = await fetch(`${app.url}/api/pieces/${bad.id}/recipe`);
    expect(file.headers.get('content-disposition')).toContain('attachment');
    expect(await file.json()).toEqual({ ...bad.recipe, version: 999 });
    expect((await app.ask('GET', 'trials/shown')).status).toBe(200);
    expect((await app.ask('POST', `pieces/${bad.id}/duplicate`)).status).toBe(422);
    expect((await app.ask('DELETE', `pieces/${bad.id}`)).status).toBe(200);
    expect((await app.ask<ShelfPiece[]>('GET', 'pieces')).body).toHaveLength(1);
  });
});

describe('a trial that is made again', () => {
  const trialsOf = async (piece: string) =>
    (await app.ask<TrialView[]>('GET', `pieces/${piece}/trials`)).body;
  /** Finished, pinned, named; then its file is lost. */
  async function pinnedAndLost(piece: PieceView, recipe: Recipe): Promise<TrialView> {
    const trial = await finishedTrial(app, piece.id, recipe);
    await app.ask('PATCH', `trials/${trial.id}`, { pinned: true, name: 'The good one' });
    const bytes = await (await fetch(`${app.url}/api/trials/${trial.id}/file`)).arrayBuffer();
    const hash = Buffer.from(await crypto.subtle.digest('SHA-256', bytes)).toString('hex');
    rmSync(join(app.dataDir, 'blobs', hash.slice(0, 2), hash));
    return trial;
  }

  it('keeps pin, name and letter, whether it can be made or not', async () => {
    const { piece, mask } = await savedWithPaint();
    const trial = await pinnedAndLost(piece, piece.recipe);
    const paint = join(app.dataDir, 'blobs', mask.slice(0, 2), mask);
    rmSync(paint);
    const refused = await app.ask<{ code: string }>('POST', `pieces/${piece.id}/trials`, {
      recipe: piece.recipe,
    });
    expect([refused.status, refused.body.code]).toEqual([422, 'layers_missing']);
    expect(await trialsOf(piece.id)).toMatchObject([{ id: trial.id, pinned: true, name: 'The good one' }]);
    await painted(piece.recipe);
    const again = await finishedTrial(app, piece.id, piece.recipe);
    expect(again).toMatchObject({ state: 'done', pinned: true, name: 'The good one', letter: trial.letter });
    expect((await fetch(`${app.url}/api/trials/${again.id}/file`)).status).toBe(200);
    expect(await trialsOf(piece.id)).toHaveLength(1);
  });

  it('whose file is damaged is told as such, never sent, and made anew', async () => {
    const { piece } = await pieceOver(app, clip, 'pond.mp4');
    const trial = await finishedTrial(app, piece.id, small(piece.recipe));
    const url = `${app.url}/api/trials/${trial.id}/file`;
    const whole = await (await fetch(url)).arrayBuffer();
    const hash = Buffer.from(await crypto.subtle.digest('SHA-256', whole)).toString('hex');
    const path = join(app.dataDir, 'blobs', hash.slice(0, 2), hash);
    const bytes = Buffer.from(whole.slice(0));
    bytes[bytes.length >> 1] ^= 255;
    writeFileSync(path, bytes);
    const told = await fetch(url);
    expect([told.status, await told.json()]).toMatchObject([410, { code: 'file_damaged' }]);
    expect((await finishedTrial(app, piece.id, small(piece.recipe))).id).toBe(trial.id);
    const again = Buffer.from(await (await fetch(url)).arrayBuffer());
    expect(Buffer.compare(again, Buffer.from(whole))).toBe(0);
  });

  it('is not lost when a newer one is asked for before it is done', async () => {
    const { piece } = await pieceOver(app, clip, 'pond.mp4');
    const wide = small(piece.recipe, 320);
    const trial = await pinnedAndLost(piece, wide);
    await app.ask('POST', `pieces/${piece.id}/trials`, { recipe: wide });
    const newer = await finishedTrial(app, piece.id, small(piece.recipe, 48));
    expect(newer.state).toBe('done');
    const rows = await trialsOf(piece.id);
    const kept = rows.find(({ id }) => id === trial.id);
    expect(kept).toMatchObject({ pinned: true, name: 'The good one' });
    expect(['interrupted', 'done']).toContain(kept?.state);
    expect(await finishedTrial(app, piece.id, wide)).toMatchObject({ state: 'done', pinned: true });
  });
});

describe('a likeness that cannot be measured', () => {
  const kept = (id: string) => {
    const database = new Database(join(app.dataDir, 'muted-pond.sqlite'), { readonly: true });
    try {
      return JSON.parse(database.prepare('SELECT seen FROM trial WHERE id = ?').pluck().get(id) as string);
    } finally {
      database.close();
    }
  };

  it('is told, tried again after pauses that grow, and then no more', async () => {
    const { piece } = await pieceOver(app, clip, 'pond.mp4');
    const tiny = await finishedTrial(app, piece.id, small(piece.recipe, 48));
    await expect.poll(() => kept(tiny.id)?.width).toBe(48);
    const { blob } = await app.nest
      .get(TrialsService)
      .file(tiny.id)
      .then(({ trial }) => trial);
    rmSync(join(app.dataDir, 'blobs', String(blob).slice(0, 2), String(blob)));
    const wide = await finishedTrial(app, piece.id, small(piece.recipe, 160));
    await expect.poll(() => kept(tiny.id)).toMatchObject({ width: 160, value: null, tries: 1 });
    const list = async () => (await app.ask<TrialView[]>('GET', `pieces/${piece.id}/trials`)).body;
    const told = (await list()).find(({ id }) => id === tiny.id)?.seen;
    expect(told).toEqual({ width: 160, value: null, problem: expect.stringMatching(/\w/) });
    // The others are measured all the same.
    await expect.poll(() => kept(wide.id)?.value).toBeGreaterThan(0);

    const jobs = vi.spyOn(app.nest.get(Jobs), 'add');
    // Looked at often, it is not tried before its time.
    for (let look = 0; look < 20; look++) await list();
    expect(jobs).not.toHaveBeenCalled();
    const pauses: number[] = [];
    for (let tries = 1; kept(tiny.id).againAt !== null; tries++) {
      const { againAt } = kept(tiny.id);
      pauses.push(againAt - Date.now());
      vi.useFakeTimers({ now: againAt + 1, toFake: ['Date'] });
      await list();
      await expect.poll(() => kept(tiny.id).tries).toBe(tries + 1);
    }
    vi.useFakeTimers({ now: Date.now() + 1e9, toFake: ['Date'] });
    const calls = jobs.mock.calls.length;
    for (let look = 0; look < 5; look++) await list();
    vi.useRealTimers();
    expect([jobs.mock.calls.length, calls]).toEqual([3, 3]);
    expect(pauses).toEqual([...pauses].sort((one, other) => one - other));
    expect(pauses[2]).toBeGreaterThan(30 * pauses[0]);
    jobs.mockRestore();
  });
});

describe('a likeness that an earlier version measured', () => {
  it('is measured anew', async () => {
    const { piece } = await pieceOver(app, clip, 'pond.mp4');
    const trial = await finishedTrial(app, piece.id, small(piece.recipe, 48));
    const database = new Database(join(app.dataDir, 'muted-pond.sqlite'));
    const list = async () => (await app.ask<TrialView[]>('GET', `pieces/${piece.id}/trials`)).body;
    try {
      await expect.poll(async () => (await list())[0].seen?.value).toBeGreaterThan(0);
      const [{ seen }] = await list();
      const earlier = JSON.stringify({ width: 48, value: 0.125 });
      database.prepare('UPDATE trial SET seen = ? WHERE id = ?').run(earlier, trial.id);
      await expect.poll(async () => (await list())[0].seen).toEqual(seen);
    } finally {
      database.close();
    }
  });
});

describe('likeness across sizes', () => {
  const seenAt = async (piece: string, width: number) => {
    const all = async () => (await app.ask<TrialView[]>('GET', `pieces/${piece}/trials`)).body;
    await expect
      .poll(async () => (await all()).map(({ seen }) => seen?.width), { timeout: 30_000 })
      .toEqual(new Array((await all()).length).fill(width));
    return all();
  };

  it('is measured at the width of the widest trial, and again when a wider one comes', async () => {
    const { piece } = await pieceOver(app, clip, 'pond.mp4');
    // The smallest is the most alike at its own size: it leaves out what is hard to draw.
    await finishedTrial(app, piece.id, small(piece.recipe, 32));
    const [alone] = await seenAt(piece.id, 32);
    expect(alone.seen?.value).toBe(alone.figures?.likeness);
    await finishedTrial(app, piece.id, small(piece.recipe, 160));
    const [tiny, middling] = await seenAt(piece.id, 160);
    expect(middling.seen?.value).toBe(middling.figures?.likeness);
    expect(tiny.figures?.likeness).toBeGreaterThan(middling.figures?.likeness ?? 1);
    expect(tiny.seen?.value).toBeLessThan(middling.seen?.value ?? 0);
    await finishedTrial(app, piece.id, small(piece.recipe, 320));
    const three = await seenAt(piece.id, 320);
    const values = three.map(({ seen }) => seen?.value ?? 0);
    expect(values).toEqual([...values].sort((a, b) => a - b));
  });
});
