import type { FitView, SavingsView, TrialView } from '@muted-pond/core/api';
import { changeWeigh, type Limit, type Recipe } from '@muted-pond/core/recipe';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { readWithSharp } from '../../core/src/testing/independent-readers.js';
import { SHIPPED_LIMITS } from '../../core/src/testing/shipped-limits.js';
import { finishedTrial, type Problem, pieceOver, startApp, type TestApp } from './app.js';
import { type ClipFolder, clipFolder } from './clips.js';

let app: TestApp;
let clips: ClipFolder;
let clip: string;

beforeAll(async () => {
  app = await startApp();
  clips = clipFolder();
  clip = clips.make(
    'moving.mkv',
    ...['-f', 'lavfi', '-i', 'testsrc2=s=320x180:r=20:d=1.5', '-pix_fmt', 'bgr0', '-c:v', 'ffv1'],
  );
});

afterAll(async () => {
  clips.remove();
  await app.stop();
});

describe('limits', () => {
  it('begin as the ones that ship, are added, changed, deleted and put back', async () => {
    const { body: shipped } = await app.ask<Limit[]>('GET', 'limits');
    expect(shipped).toEqual(SHIPPED_LIMITS);
    const values = { ...{ name: 'Window sign', width: 400, height: null, bytes: 50_000 } };
    const rest = { seconds: 6, frameRate: 15, alpha: false };
    const made = await app.ask<Limit>('POST', 'limits', { ...values, ...rest });
    expect(made.status).toBe(201);
    const changed = await app.ask<Limit>('PUT', `limits/${made.body.id}`, {
      ...values,
      ...rest,
      bytes: 60_000,
    });
    expect(changed.body.bytes).toBe(60_000);
    await app.ask('DELETE', `limits/${shipped[0].id}`);
    const { body: left } = await app.ask<Limit[]>('GET', 'limits');
    expect(left.map(({ name }) => name)).toEqual([
      ...shipped.slice(1).map(({ name }) => name),
      'Window sign',
    ]);
    const { id, ...gone } = shipped[0];
    await app.ask('PUT', `limits/${id}`, gone);
    expect((await app.ask<Limit[]>('GET', 'limits')).body).toHaveLength(6);
  });

  it('that cannot be are refused with the field', async () => {
    const { id: _, ...limit } = SHIPPED_LIMITS[0];
    const { status, body } = await app.ask<Problem>('POST', 'limits', { ...limit, bytes: 12, width: 0 });
    expect(status).toBe(400);
    expect(JSON.stringify(body)).toContain('bytes');
    expect(JSON.stringify(body)).toContain('width');
    expect((await app.ask('DELETE', 'limits/nowhere')).status).toBe(404);
  });
});

describe('a trial', () => {
  it('is pinned and named; pinned ones outlive the rest', async () => {
    const { piece } = await pieceOver(app, clip, 'moving.mkv');
    const settings = (colors: number): Recipe => ({
      ...piece.recipe,
      span: { start: 0, end: 3 },
      weigh: changeWeigh(piece.recipe.weigh, { width: 32, frameRate: 20, gif: { colors } }),
    });
    const first = await finishedTrial(app, piece.id, settings(2));
    const pinned = await app.ask<TrialView>('PATCH', `trials/${first.id}`, {
      pinned: true,
      name: 'For the door',
    });
    expect(pinned.body).toMatchObject({ pinned: true, name: 'For the door' });
    for (let colors = 3; colors < 32; colors++) await finishedTrial(app, piece.id, settings(colors));
    const { body: kept } = await app.ask<TrialView[]>('GET', `pieces/${piece.id}/trials`);
    expect(kept).toHaveLength(25);
    expect(kept[0]).toMatchObject({ id: first.id, name: 'For the door' });
    expect((await app.ask('PATCH', `trials/${first.id}`, {})).status).toBe(400);
  });
});

describe('fitting', () => {
  async function fitted(piece: string, recipe: Recipe, limit: Omit<Limit, 'id'>): Promise<FitView> {
    const ended = app.event(
      (event) => event.type === 'fit' && event.fit.piece === piece && event.fit.state !== 'working',
    );
    const { status } = await app.ask<FitView>('POST', `pieces/${piece}/fit`, { recipe, limit });
    expect(status).toBe(201);
    return ((await ended) as { fit: FitView }).fit;
  }
  const limit = {
    ...{ name: 'Window sign', width: 280, height: 200, bytes: 60_000 },
    ...{ seconds: 3, frameRate: 12, alpha: false, kinds: null },
  };

  it('finds three finished files under the limit, which become trials', async () => {
    const { piece } = await pieceOver(app, clip, 'moving.mkv');
    const { state, offers } = await fitted(piece.id, piece.recipe, limit);
    expect(state).toBe('done');
    expect(offers.map(({ kind }) => kind)).toEqual(['sharp', 'smooth', 'colour']);
    const { body: trials } = await app.ask<TrialView[]>('GET', `pieces/${piece.id}/trials`);
    for (const { trial: id, encodes } of offers) {
      expect(encodes).toBeLessThanOrEqual(6);
      const trial = trials.find((one) => one.id === id) as TrialView;
      const bytes = new Uint8Array(await (await fetch(`${app.url}/api/trials/${id}/file`)).arrayBuffer());
      expect(bytes.length).toBe(trial.figures?.bytes);
      expect(bytes.length).toBeLessThanOrEqual(limit.bytes);
      expect(bytes.length / limit.bytes).toBeGreaterThan(0.85);
      const { width, height } = await readWithSharp(bytes);
      expect(width).toBeLessThanOrEqual(limit.width);
      expect(height).toBeLessThanOrEqual(limit.height);
      expect(trial.recipe.weigh.frameRate).toBeLessThanOrEqual(limit.frameRate);
      expect(trial.figures?.likeness).toBeGreaterThan(0.5);
    }
    const [sharp, smooth] = offers.map(({ trial }) => trials.find((one) => one.id === trial)?.recipe.weigh);
    expect(sharp?.width).toBeGreaterThan(smooth?.width ?? 0);
    expect(smooth?.frameRate).toBeGreaterThanOrEqual(Number(sharp?.frameRate));
    // The same is found again and stored once.
    const again = await fitted(piece.id, piece.recipe, limit);
    expect(again.offers).toEqual(offers);
  });

  it('finds one where the best fits as it is', async () => {
    const { piece } = await pieceOver(app, clip, 'moving.mkv');
    const { offers } = await fitted(piece.id, piece.recipe, { ...limit, bytes: 5_000_000 });
    expect(offers).toMatchObject([{ kind: 'sharp', encodes: 1 }]);
  });

  it('says what would help where nothing fits', async () => {
    const { piece } = await pieceOver(app, clip, 'moving.mkv');
    const tiny = await fitted(piece.id, piece.recipe, { ...limit, bytes: 1000 });
    expect(tiny).toMatchObject({ state: 'failed', offers: [] });
    expect(tiny.problem).toMatch(/Even \d+ px wide.*takes 1 KB. To fit,/);
    const short = await fitted(piece.id, piece.recipe, { ...limit, seconds: 1 });
    expect(short.problem).toMatch(/lasts 1.50 s, and “Window sign” takes 1 s. Shorten the span/);
  });

  it('that is stopped leaves nothing', async () => {
    const { piece } = await pieceOver(app, clip, 'moving.mkv');
    const started = app.event((event) => event.type === 'fit' && event.fit.piece === piece.id);
    await app.ask('POST', `pieces/${piece.id}/fit`, { recipe: piece.recipe, limit });
    await started;
    await app.ask('DELETE', `pieces/${piece.id}/fit`);
    const { body: last } = await app.ask<FitView | undefined>('GET', `pieces/${piece.id}/fit`);
    expect(last ?? null).toBeNull();
    expect((await app.ask<TrialView[]>('GET', `pieces/${piece.id}/trials`)).body).toEqual([]);
  });
});

describe('what would help', () => {
  it('is tried out one change at a time, and is what the file then weighs', async () => {
    const { piece } = await pieceOver(app, clip, 'moving.mkv');
    const recipe = { ...piece.recipe, weigh: { ...piece.recipe.weigh, width: 160 } };
    const ended = app.event((event) => event.type === 'savings' && event.savings.state !== 'working');
    await app.ask('POST', `pieces/${piece.id}/savings`, { recipe, of: 'settings' });
    const { savings } = (await ended) as { savings: SavingsView };
    expect(savings.state).toBe('done');
    const kinds = savings.savings.map(({ kind }) => kind);
    expect([...kinds].sort()).toEqual(
      ['settle', 'squeeze', 'narrower', 'fewer-frames', 'fewer-colours', 'no-dither', 'shorter'].sort(),
    );
    const weights = savings.savings.map(({ bytes }) => bytes);
    expect(weights).toEqual([...weights].sort((one, other) => one - other));
    const [best] = savings.savings;
    expect(best.bytes).toBeLessThan(savings.bytes);
    expect((await finishedTrial(app, piece.id, best.recipe)).figures?.bytes).toBe(best.bytes);
    expect((await finishedTrial(app, piece.id, recipe)).figures?.bytes).toBe(savings.bytes);
  });
});
