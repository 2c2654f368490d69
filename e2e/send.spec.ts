import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { createServer } from 'node:http';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { HostView } from '@muted-pond/core/api';
import type { Page } from '@playwright/test';
import { unzipSync } from 'fflate';
import { readWithSharp } from '../packages/core/src/testing/independent-readers.js';
import { expect, test } from './application.js';
import { chooseKind, enter, openOwnPiece, openStone, saveLink } from './hands.js';

/** Ticks places and sends; resolves when nothing is on its way any more. */
async function sendTo(page: Page, ...places: string[]): Promise<void> {
  const bank = page.getByRole('complementary', { name: 'Send: settings' });
  for (const place of ['Chat square', 'Blog column', 'Advert panel', 'Shop banner', 'Message sticker']) {
    await bank.getByLabel(place, { exact: true }).setChecked(places.includes(place));
  }
  await bank.getByRole('button', { name: /^Send/ }).click();
  for (const place of places) {
    const row = bank
      .getByRole('list', { name: 'What was sent' })
      .getByRole('listitem')
      .filter({ hasText: place });
    await expect(row).toHaveAttribute('data-state', /accepted|refused|failed|stopped/);
  }
}

const rowOf = (page: Page, place: string) =>
  page.getByRole('list', { name: 'What was sent' }).getByRole('listitem').filter({ hasText: place });

/** Whether the picture of a page moves: its pixels at two moments differ. */
async function moves(page: Page, selector: string): Promise<boolean> {
  const shown = page.locator(selector);
  await expect(shown).toBeVisible();
  // A page that begins anew puts its pictures in again.
  let first: Buffer = Buffer.alloc(0);
  await expect(async () => {
    first = await shown.screenshot();
  }).toPass();
  let differs = false;
  await expect
    .poll(async () => {
      differs = !(await shown.screenshot()).equals(first);
      return differs;
    })
    .toBe(true);
  return differs;
}

test('a cinemagraph gets under a limit, is sent, refused elsewhere, fitted, accepted, opened and embedded', async ({
  page,
  context,
  url,
}) => {
  test.setTimeout(400_000);
  await openOwnPiece(page, url, 'kettle.mov', 'morning steam.mov', 'Still');
  await page.getByRole('button', { name: 'Propose from motion' }).click();
  await expect(page.getByText(/1 ripple|\d ripples/).first()).toBeVisible();

  // Under the limit of the Chat square.
  await openStone(page, 'Weigh');
  await enter(page.getByLabel('Width, px'), 240);
  await expect(page.getByText('the real file, playing')).toBeVisible();

  await openStone(page, 'Send');
  await page.getByLabel('Alternative text').fill('Steam rises from a kettle.');
  await page.getByLabel('Alternative text').blur();
  await expect(page.getByText('alt="Steam rises from a kettle."')).toBeVisible();
  await expect(page.getByText('Saved', { exact: true })).toBeVisible();
  await sendTo(page, 'Chat square');
  await expect(rowOf(page, 'Chat square')).toHaveAttribute('data-state', 'accepted');

  // Another place is smaller, and says by how much.
  const { places } = (await (await fetch(`${url}/api/practice-host`)).json()) as HostView;
  const panel = places.find(({ id }) => id === 'advert-panel');
  const { id: _, mood: __, ...values } = panel ?? ({} as never);
  await fetch(`${url}/api/limits/advert-panel`, {
    method: 'PUT',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ ...values, width: 160 }),
  });
  await page.reload();
  await sendTo(page, 'Advert panel');
  await expect(rowOf(page, 'Advert panel')).toContainText('80 more than it may');
  await rowOf(page, 'Advert panel').getByRole('button', { name: 'Fit under it' }).click();

  // Weigh has its limit chosen already; what is found is taken, and a click comes back.
  await expect(page.getByRole('heading', { name: 'Weigh', level: 1 })).toBeVisible();
  await page.getByRole('button', { name: /^Fit under/ }).click();
  await page.getByRole('button', { name: /Keep it sharp/ }).click({ timeout: 200_000 });
  await page.getByRole('link', { name: 'It fits: back to Send' }).click();
  await expect(page.getByRole('heading', { name: 'Send', level: 1 })).toBeVisible();
  await sendTo(page, 'Advert panel');
  await expect(rowOf(page, 'Advert panel')).toHaveAttribute('data-state', 'accepted');

  // The page, in a second tab: the loop alone, playing.
  const [opened] = await Promise.all([
    context.waitForEvent('page'),
    rowOf(page, 'Advert panel').getByRole('link', { name: 'Open the page' }).click(),
  ]);
  await expect(opened.getByRole('heading', { name: 'Kettle' })).toBeVisible();
  await expect(opened.locator('main img')).toHaveAttribute('alt', 'Steam rises from a kettle.');
  expect(await moves(opened, 'main img')).toBe(true);
  const file = await (
    await fetch((await opened.locator('main img').getAttribute('src')) ?? '')
  ).arrayBuffer();
  const { plays, width } = await readWithSharp(new Uint8Array(file));
  expect([plays, width]).toEqual([0, 160]);

  // Its embed in a third page, from elsewhere.
  const after = (await (await fetch(`${url}/api/practice-host`)).json()) as HostView;
  const embed = after.pages.find(({ place }) => place === 'advert-panel')?.embed ?? '';
  const elsewhere = createServer((_request, response) => {
    response.setHeader('content-type', 'text/html');
    response.end(`<!doctype html><title>A blog</title>${embed}`);
  }).listen(0, '127.0.0.1');
  await new Promise((resolve) => elsewhere.once('listening', resolve));
  try {
    const blog = await context.newPage();
    await blog.goto(`http://127.0.0.1:${(elsewhere.address() as { port: number }).port}/`);
    const inside = blog.frameLocator('iframe').locator('img');
    await expect(inside).toBeVisible();
    expect(
      await inside.evaluate((image: HTMLImageElement) => image.decode().then(() => image.naturalWidth)),
    ).toBe(160);
    expect(await moves(blog, 'iframe')).toBe(true);
  } finally {
    elsewhere.close();
  }

  // It is in the list, and can be taken down and put back.
  await page.goto(`${url}/practice-host`);
  const card = page.getByRole('article').filter({ hasText: 'Advert panel' });
  await card.getByRole('button', { name: 'Take down' }).click();
  await expect(card).toHaveCount(0);
  expect((await opened.request.get(opened.url())).status()).toBe(404);
  await page.getByRole('button', { name: 'Put it back' }).first().click();
  await expect(card).toBeVisible();
  expect((await opened.request.get(opened.url())).status()).toBe(200);
});

test('a movie is repeated until twenty seconds are full', async ({ page, url }) => {
  await openOwnPiece(page, url, 'kettle.mov', 'long steam.mov', 'Weigh');
  await enter(page.getByLabel('Width, px'), 200);
  await chooseKind(page, 'MP4');
  await enter(page.getByLabel('Repeat to, s'), 20);
  await expect(page.getByText(/\d whole rounds, 1[89]\.\d\d s|\d whole rounds, 20\.00 s/)).toBeVisible();
  const told = (await page.getByText(/whole rounds,/).textContent()) ?? '';
  const seconds = Number(/([\d.]+) s/.exec(told)?.[1]);
  await expect(page.getByText('the real file, playing')).toBeVisible();
  await expect(page.getByTestId('stage').locator('video')).toBeVisible();

  await openStone(page, 'Send');
  await expect(page.getByText('<video width="200"')).toBeVisible();
  const [download] = await Promise.all([page.waitForEvent('download'), saveLink(page).click()]);
  expect(download.suggestedFilename()).toMatch(/\.mp4$/);
  const length = execFileSync('ffprobe', [
    ...['-v', 'error', '-show_entries', 'format=duration', '-of', 'csv=p=0', await download.path()],
  ]);
  expect(Number(length.toString())).toBeCloseTo(seconds, 1);
});

test('all kinds are made, compared, and saved as a page with its files', async ({ page, context, url }) => {
  test.setTimeout(300_000);
  await openOwnPiece(page, url, 'kettle.mov', 'all steam.mov', 'Weigh');
  await enter(page.getByLabel('Width, px'), 160);
  await expect(page.getByText('the real file, playing')).toBeVisible();
  await openStone(page, 'Send');
  const ledger = page.getByRole('region', { name: 'Kinds of file' });
  await ledger.getByRole('button', { name: 'Make all kinds' }).click();
  await expect(ledger.getByRole('button', { name: 'Compare' })).toHaveCount(7, { timeout: 200_000 });
  for (const kind of ['GIF', 'WebP', 'APNG', 'AVIF', 'MP4', 'WebM', 'Poster']) {
    await expect(ledger.getByLabel(`Send the ${kind}`)).toBeChecked();
  }
  // What is not ticked is left out of the page.
  await ledger.getByLabel('Send the APNG').uncheck();
  await page.getByText('Picture', { exact: true }).click();
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('button', { name: 'Page and files as a ZIP' }).click(),
  ]);
  const entries = unzipSync(readFileSync(await download.path()));
  expect(
    Object.keys(entries)
      .map((name) => name.slice(name.lastIndexOf('.') + 1))
      .sort(),
  ).toEqual(['avif', 'gif', 'html', 'mp4', 'png', 'webm', 'webp']);
  const folder = mkdtempSync(join(tmpdir(), 'muted-pond-page-'));
  try {
    for (const [name, bytes] of Object.entries(entries)) writeFileSync(join(folder, name), bytes);
    const visit = await context.newPage();
    await visit.goto(`file://${folder}/index.html`);
    const shown = () => visit.evaluate(() => document.querySelector('img')?.currentSrc.split('.').at(-1));
    await expect.poll(shown).toBe('avif');
    await visit.emulateMedia({ reducedMotion: 'reduce' });
    await visit.reload();
    await expect.poll(shown).toBe('png');
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }

  // The preview plays the very snippet, and one kind is held against the source under the wipe.
  await page.getByText('Video', { exact: true }).click();
  const preview = page.frameLocator('iframe[title="The page as it will be"]').locator('video');
  await expect(preview).toBeVisible();
  await expect
    .poll(() => preview.evaluate((video: HTMLVideoElement) => video.currentTime > 0 && !video.paused))
    .toBe(true);
  await ledger.getByRole('row', { name: /AVIF/ }).getByRole('button', { name: 'Compare' }).click();
  await expect(page.getByRole('img', { name: /picture by picture/ })).toBeVisible();
});

test('two trials are looked at side by side, in step, and saved as one page', async ({
  page,
  context,
  url,
}) => {
  await openOwnPiece(page, url, 'kettle.mov', 'two steams.mov', 'Weigh');
  await enter(page.getByLabel('Width, px'), 200);
  await expect(page.getByText('the real file, playing')).toBeVisible();
  await chooseKind(page, 'WebP');
  await expect(page.getByTestId('weight')).toBeVisible();
  await expect(page.getByText('the real file, playing')).toBeVisible();
  await openStone(page, 'Send');
  await page.getByRole('combobox', { name: 'Trials side by side' }).click();
  const options = page.getByRole('option');
  const count = await options.count();
  await options.nth(count - 2).click();
  await options.nth(count - 1).click();
  await page.keyboard.press('Escape');
  await page.getByRole('button', { name: 'Look at them in step' }).click();
  const pictures = page.getByTestId('stage').getByRole('img', { name: /picture by picture/ });
  await expect(pictures).toHaveCount(2);
  const moments = () => pictures.evaluateAll((all) => all.map((one) => one.getAttribute('data-at')));
  await expect.poll(async () => Number((await moments())[0])).toBeGreaterThan(0);
  const [one, other] = await moments();
  expect(one).toBe(other);

  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('button', { name: 'Save as one page' }).click(),
  ]);
  const visit = await context.newPage();
  await visit.goto(`file://${await saved(download)}`);
  await expect(visit.locator('figure')).toHaveCount(2);
  await visit.getByRole('button', { name: 'Begin together' }).click();
  await expect(visit.locator('img')).toHaveCount(2);
  expect(await moves(visit, 'img >> nth=0')).toBe(true);
});

/** A download under its own name: browsers go by the ending. */
async function saved(download: { saveAs(path: string): Promise<void> }): Promise<string> {
  const path = join(mkdtempSync(join(tmpdir(), 'muted-pond-beside-')), 'page.html');
  await download.saveAs(path);
  return path;
}
