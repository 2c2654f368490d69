import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import Database from 'better-sqlite3';
import type { FootageView, ShelfPiece } from '../packages/core/src/api/index.js';
import { startServer } from '../tools/server-process.js';
import { expect, test } from './application.js';
import { dropFile, dropFiles, enter, openOwnPiece, openStone } from './hands.js';

/** What goes wrong is told where one looks, with what can be done; and what is right stays usable. */

const demoFile = (name: string) => readFileSync(new URL(`../demo/footage/${name}`, import.meta.url));

test('a film that breaks off opens with what it holds, and Gather says where', async ({ page, url }) => {
  await page.goto(url);
  const ended: string[] = [];
  page.on('response', (answer) => {
    if (answer.status() >= 400) ended.push(`${answer.status()} ${answer.request().method()} ${answer.url()}`);
  });
  await dropFile(page, 'half.webm', demoFile('koi.webm').subarray(0, 300_000));
  await expect(page).toHaveURL(/\/cut$/);
  await openStone(page, 'Gather');
  await expect(page.getByText(/it breaks off after [0-4]\.\d s of 6\.0 s/)).toBeVisible();
  const frames = await page.getByText(/frame \d+ of \d+/).textContent();
  const count = Number(/of (\d+)/.exec(frames ?? '')?.[1]);
  expect(count).toBeGreaterThan(5);
  expect(count).toBeLessThan(180);
  // Nothing that was asked for on the way was refused.
  expect(ended).toEqual([]);
});

test('a number that cannot be is left as it was typed, and the field says why', async ({ page, url }) => {
  await openOwnPiece(page, url, 'lantern.mp4', 'typed.mp4', 'Loop');
  const lasts = page.getByLabel('Make the span last');
  const before = await lasts.inputValue();
  await enter(lasts, 9000);
  await expect(page.getByText(/s is the most here/)).toBeVisible();
  await expect(lasts).toHaveAttribute('aria-invalid', 'true');
  await expect(lasts).toHaveValue('9000.00 s');
  // Escape takes the old one back, and nothing has changed.
  await lasts.press('Escape');
  await expect(page.getByText(/s is the most here/)).toBeHidden();
  await expect(lasts).toHaveValue(before);
  await enter(lasts, 2);
  await expect(lasts).toHaveValue('2.00 s');
  await expect(page.getByLabel('Speed, ×')).not.toHaveValue('1 ×');
});

test('a lost file and a recipe of a later version are told on the shelf and in the piece, and a lost file is mended by bringing it in', async ({
  page,
}) => {
  const home = mkdtempSync(join(tmpdir(), 'muted-pond-told-'));
  let server = await startServer({ demo: true, home });
  const { dataDir } = server;
  try {
    const get = async <T>(path: string) => (await (await fetch(`${server.url}/api/${path}`)).json()) as T;
    const film = (await get<FootageView[]>('footage')).find(({ name }) => name === 'koi.webm');
    const pieces = await get<ShelfPiece[]>('pieces');
    const later = pieces.find(({ name }) => name === 'Osier Lane badge');
    if (!film || !later) throw new Error('The demo has no such footage or piece.');
    await server.stop();
    const database = new Database(join(dataDir, 'muted-pond.sqlite'));
    database
      .prepare(`UPDATE piece SET recipe = json_set(recipe, '$.version', 99) WHERE id = ?`)
      .run(later.id);
    database.close();
    rmSync(join(dataDir, 'blobs', film.id.slice(0, 2), film.id));
    rmSync(join(dataDir, 'cache'), { recursive: true, force: true });
    server = await startServer({ demo: false, home });

    await page.goto(server.url);
    const card = page.getByRole('article').filter({ hasText: 'Osier Lane badge' });
    await expect(card).toContainText('made by a later Muted Pond');
    const [saved] = await Promise.all([
      page.waitForEvent('download'),
      card.getByRole('link', { name: 'Save its recipe' }).click(),
    ]);
    expect(JSON.parse(readFileSync(await saved.path(), 'utf8'))).toMatchObject({ version: 99 });
    await expect(page.getByText('koi.webm is missing on the disk')).toBeVisible();
    // Every other piece stands there as it was.
    await expect(page.getByRole('article')).toHaveCount(pieces.length);

    await page.getByRole('link', { name: 'Carp, circling' }).first().click();
    await openStone(page, 'Loop');
    const gone = page.getByText('“koi.webm” is gone from the disk. Bring the same file in again');
    await expect(gone).toHaveCount(2);

    await page.goto(server.url);
    await dropFile(page, 'koi.webm', demoFile('koi.webm'));
    await expect(page).toHaveURL(/\/cut$/);
    await page.goto(server.url);
    await expect(page.getByText('koi.webm is missing on the disk')).toBeHidden();
    await page.getByRole('link', { name: 'Carp, circling' }).first().click();
    await openStone(page, 'Loop');
    // It is measured beside the making of the demo's files.
    await expect(page.getByTestId('seam')).toBeVisible({ timeout: 120_000 });
    await expect(gone).toHaveCount(0);
  } finally {
    await server.stop();
    rmSync(home, { recursive: true, force: true });
  }
});

test('a piece whose pictures were reordered outlives a server that is gone for a while, with its undo steps', async ({
  page,
}) => {
  const home = mkdtempSync(join(tmpdir(), 'muted-pond-gone-'));
  let server = await startServer({ demo: false, home });
  try {
    await page.goto(server.url);
    const names = ['autumn menu 1.png', 'autumn menu 2.png', 'autumn menu 3.png'];
    await dropFiles(
      page,
      names.map((name) => ({ name, bytes: demoFile(name) })),
    );
    await openStone(page, 'Gather');
    const order = () =>
      page.getByRole('list', { name: 'Pictures in their order' }).getByRole('listitem').allTextContents();
    const before = await order();
    await page.getByRole('button', { name: 'Reversed' }).click();
    await expect.poll(order).toEqual([...before].reverse());
    await expect(page.getByText('Saved', { exact: true })).toBeVisible();
    await server.kill();
    // The page's own line to the server is up again.
    const listening = page.waitForResponse(
      (response) => response.url().endsWith('/api/events') && response.ok(),
    );
    server = await startServer({ demo: false, home, port: new URL(server.url).port });
    await listening;
    await expect(page.getByText('Saved', { exact: true })).toBeVisible();
    await page.getByRole('button', { name: 'Undo' }).click();
    await expect.poll(order).toEqual(before);
    await expect(page.getByText('Saved', { exact: true })).toBeVisible();
  } finally {
    await server.stop();
    rmSync(home, { recursive: true, force: true });
  }
});
