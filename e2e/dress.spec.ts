import { readFileSync } from 'node:fs';
import type { Page } from '@playwright/test';
import sharp from 'sharp';
import { readWithSharp } from '../packages/core/src/testing/independent-readers.js';
import { expect, test } from './application.js';
import { dragBy, dropFiles, enter, openOwnPiece, openStone, readPixels, saveFile, scrubTo } from './hands.js';

const footage = (name: string) => readFileSync(new URL(`../demo/footage/${name}`, import.meta.url));

/** Goes to a part of the Dress stone. */
const openPart = (page: Page, name: string) =>
  page.getByRole('radiogroup', { name: 'What is dressed' }).getByText(name, { exact: true }).click();

/** Pixels of a picture within a part of it that a test takes. */
function countIn(
  rgba: Uint8Array,
  width: number,
  part: { top: number; bottom: number },
  wanted: (r: number, g: number, b: number) => boolean,
): number {
  const height = rgba.length / 4 / width;
  let count = 0;
  for (let y = Math.floor(part.top * height); y < Math.floor(part.bottom * height); y++) {
    for (let x = 0; x < width; x++) {
      const i = (y * width + x) * 4;
      if (wanted(rgba[i], rgba[i + 1], rgba[i + 2])) count++;
    }
  }
  return count;
}
const isPale = (r: number, g: number, b: number) => Math.min(r, g, b) > 224;
const isWhite = (r: number, g: number, b: number) => Math.min(r, g, b) > 235;

test('words are typed on the picture and stay for the whole length, without a fade', async ({
  page,
  url,
}) => {
  await openOwnPiece(page, url, 'lantern.mp4', 'evening.mp4', 'Weigh');
  await enter(page.getByLabel('Width, px'), 320);
  await openStone(page, 'Dress');
  await openPart(page, 'Captions');
  await page.getByRole('button', { name: 'A line below' }).click();
  // It is open on the picture with its words selected: what is typed takes their place, and nothing else acts.
  await expect(page.getByLabel('Words on the picture')).toBeFocused();
  await page.keyboard.type('LANTERNS\nfrom six');
  await page.keyboard.press('Escape');
  await expect(page.getByLabel('Words of the caption')).toHaveValue('LANTERNS\nfrom six');
  // Up a little, and caught by the middle on the way.
  const words = page.getByRole('button', { name: /Caption “LANTERNS/ });
  await dragBy(page, words, 5, -40);
  await expect(page.getByText('1 caption', { exact: true })).toBeVisible();
  // One drag is one step.
  await page.getByRole('button', { name: /^Undo/ }).click();
  await page.getByRole('button', { name: /^Redo/ }).click();

  const { pictures, width } = await readWithSharp(await saveFile(page));
  expect(pictures.length).toBeGreaterThan(20);
  const white = pictures.map((rgba) => countIn(rgba, width, { top: 0.6, bottom: 1 }, isWhite));
  expect(Math.min(...white)).toBeGreaterThan(120);
  // No frame has fewer or paler letters than another.
  expect(Math.max(...white) - Math.min(...white)).toBeLessThanOrEqual(0.03 * Math.max(...white));
});

test('a line comes at the fourth second and stays until the end', async ({ page, url }) => {
  await openOwnPiece(page, url, 'kettle.mov', 'long.mov', 'Cut');
  await scrubTo(page, 0, 250);
  await page.keyboard.press('s');
  await scrubTo(page, 174, 250);
  await page.keyboard.press('e');
  await openStone(page, 'Weigh');
  await enter(page.getByLabel('Width, px'), 240);
  await enter(page.getByLabel('Frame rate, fps'), 5);
  await openStone(page, 'Dress');
  await openPart(page, 'Captions');
  await page.getByRole('button', { name: 'A label' }).click();
  await page.getByText('A part of it', { exact: true }).click();
  await enter(page.getByRole('textbox', { name: 'Seen from' }), 4);
  const bar = page.getByRole('slider', { name: '“Label” is seen from' });
  await expect(bar).toHaveAttribute('aria-valuenow', '4');
  // Its bar on the strip can be pulled, and put back.
  await bar.press('ArrowRight');
  await expect(bar).toHaveAttribute('aria-valuenow', '4.1');
  await page.keyboard.press('ControlOrMeta+Z');
  await expect(bar).toHaveAttribute('aria-valuenow', '4');

  const { pictures, delaysCs, width } = await readWithSharp(await saveFile(page));
  let atCs = 0;
  const seen = pictures.map((rgba, i) => {
    const white = countIn(rgba, width, { top: 0.8, bottom: 1 }, isPale);
    atCs += delaysCs[i];
    return { from: atCs - delaysCs[i], white };
  });
  const before = seen.filter(({ from }) => from < 400);
  const after = seen.filter(({ from }) => from >= 400);
  expect(before.length).toBeGreaterThan(10);
  expect(after.length).toBeGreaterThan(10);
  expect(Math.max(...before.map(({ white }) => white))).toBeLessThan(20);
  expect(Math.min(...after.map(({ white }) => white))).toBeGreaterThan(40);
});

test('in black and white, more frames weigh less than fewer in colour', async ({ page, url }) => {
  await openOwnPiece(page, url, 'koi.webm', 'pond.webm', 'Weigh');
  await enter(page.getByLabel('Width, px'), 240);
  await enter(page.getByLabel('Frame rate, fps'), 12);
  await expect(page.getByText('the real file, playing')).toBeVisible();
  const weight = page.getByTestId('weight');
  const bytes = async () => Number(await weight.getAttribute('data-bytes'));
  await expect(page.getByText(/240 × /).first()).toBeVisible();
  const inColour = await bytes();

  await openStone(page, 'Dress');
  // What each look weighs is measured when it is asked for.
  await page.getByRole('button', { name: 'Try what each look saves' }).click();
  await expect(page.getByRole('button', { name: /Wet slate −\d+ %/ })).toBeVisible({ timeout: 120_000 });
  await page.getByRole('button', { name: /Wet slate/ }).click();
  await expect(page.getByText('black & white', { exact: true })).toBeVisible();

  await openStone(page, 'Weigh');
  await enter(page.getByLabel('Frame rate, fps'), 15);
  await expect.poll(async () => (await bytes()) < inColour, { timeout: 60_000 }).toBe(true);
  await expect(page.getByText('the real file, playing')).toBeVisible();
  const file = await readWithSharp(await saveFile(page));
  expect(file.pictures.length).toBeGreaterThan(40);
  for (const rgba of file.pictures) {
    const coloured = countIn(rgba, file.width, { top: 0, bottom: 1 }, (r, g, b) => r !== g || g !== b);
    expect(coloured).toBe(0);
  }
});

test('a thin border runs along all four sides of each of three panels', async ({ page, url }) => {
  await page.goto(url);
  await dropFiles(
    page,
    [1, 2, 3].map((n) => ({ name: `panel ${n}.png`, bytes: footage(`autumn menu ${n}.png`) })),
  );
  await expect(page).toHaveURL(/\/gather$/);
  await openStone(page, 'Dress');
  await openPart(page, 'Edge');
  await page.getByLabel('A border on every frame').check();
  await enter(page.getByLabel('Width, px'), 3);
  await expect(page.getByText('border', { exact: true })).toBeVisible();

  const { pictures, width, height } = await readWithSharp(await saveFile(page));
  expect(pictures).toHaveLength(3);
  for (const rgba of pictures) {
    for (let y = 0; y < height; y++) {
      for (let x = 0; x < width; x++) {
        if (x >= 3 && y >= 3 && x < width - 3 && y < height - 3) continue;
        const i = (y * width + x) * 4;
        expect([rgba[i], rgba[i + 1], rgba[i + 2]], `${x}, ${y}`).toEqual([0x16, 0x30, 0x2e]);
      }
    }
  }
});

test('what swings is followed and hidden in every frame of the file', async ({ page, url }) => {
  await openOwnPiece(page, url, 'lantern.mp4', 'hidden.mp4', 'Weigh');
  await enter(page.getByLabel('Width, px'), 320);
  await openStone(page, 'Dress');
  await openPart(page, 'Veils');
  await page.keyboard.press('Space');
  await scrubTo(page, 0, 240);
  await page.getByRole('button', { name: 'An ellipse' }).click();
  const veil = page.getByTestId('stage').getByRole('button', { name: 'Round veil' });
  await expect(veil).toBeVisible();
  // Over the lantern, which hangs left of the middle; then it follows.
  const picture = await page.getByTestId('stage').locator('canvas').first().boundingBox();
  const at = await veil.boundingBox();
  if (!picture || !at) throw new Error('The stage shows nothing.');
  const [x, y] = [picture.x + 0.283 * picture.width, picture.y + 0.35 * picture.height];
  await dragBy(page, veil, x - at.x - at.width / 2, y - at.y - at.height / 2);
  await page.getByText('Plain', { exact: true }).click();
  await page.getByRole('button', { name: 'Follow on →' }).click();
  await expect(page.getByTestId('followed')).toContainText('Followed to the end', { timeout: 60_000 });
  await expect(page.getByText(/\d+ places set/)).toBeVisible();
  // All of it is one step back and on again.
  await page.keyboard.press('ControlOrMeta+Z');
  await expect(page.getByText('1 place set')).toBeVisible();
  await page.keyboard.press('ControlOrMeta+Shift+Z');

  const isLantern = (r: number, g: number, b: number) => r > 225 && g > 120 && b < 120;
  const { pictures, width } = await readWithSharp(await saveFile(page));
  const open = await sharp(footage('lantern.mp4'))
    .metadata()
    .catch(() => null);
  expect(open).toBeNull();
  expect(pictures.length).toBeGreaterThan(20);
  for (const rgba of pictures) {
    // The lantern's own glow; what shines on the water below stays.
    expect(countIn(rgba, width, { top: 0.2, bottom: 0.5 }, isLantern)).toBeLessThan(12);
  }
});

/** One line in each of nine scripts, and a sign. */
const SCRIPTS = [
  ...['Ünïcode tea', 'Πρώτο τσάι', 'Первый чайник', 'مرحبا بالعالم (3)!', 'שלום עולם!'],
  ...['नमस्ते दुनिया', 'สวัสดีชาวโลก', '你好，世界', 'お茶をどうぞ', '안녕하세요 ♥'],
];

test('letters of nine scripts are the same on the stage and in the file, to the pixel', async ({
  page,
  url,
}) => {
  const white = await sharp({ create: { width: 640, height: 480, channels: 3, background: '#ffffff' } })
    .png()
    .toBuffer();
  await page.goto(url);
  await dropFiles(page, [{ name: 'white.png', bytes: white }]);
  await expect(page).toHaveURL(/\/gather$/);
  await openStone(page, 'Weigh');
  await enter(page.getByLabel('Width, px'), 640);
  await openStone(page, 'Dress');
  await openPart(page, 'Captions');
  await page.getByRole('button', { name: 'A line below' }).click();
  await page.getByLabel('Words of the caption').fill(SCRIPTS.join('\n'));
  await page.getByLabel('Words of the caption').blur();
  await expect(page.getByText('No font here has', { exact: false })).toBeHidden();
  const words = page.getByRole('button', { name: /Caption “Ünïcode/ });
  await words.focus();
  // Up to where all lines are seen.
  for (let i = 0; i < 19; i++) await page.keyboard.press('Shift+ArrowUp');
  await page.keyboard.press('Escape');

  const shown = page.getByTestId('stage').locator('canvas').first();
  const file = await posterOf(page, url);
  await expect.poll(async () => (await readPixels(shown)).rgba.some((level) => level < 40)).toBe(true);
  const stage = await readPixels(shown);
  expect([stage.width, stage.height]).toEqual([file.info.width, file.info.height]);
  let [worst, dark] = [0, 0];
  for (let i = 0; i < stage.rgba.length; i++) {
    worst = Math.max(worst, Math.abs(stage.rgba[i] - file.data[i]));
    if (file.data[i] < 100) dark++;
  }
  expect(dark).toBeGreaterThan(4000);
  expect(worst).toBe(0);
});

/** The first frame of the piece that is open, as the server makes it: a PNG, all colours kept. */
async function posterOf(page: Page, url: string) {
  const id = /pieces\/([^/]+)/.exec(page.url())?.[1];
  await expect(page.getByText('Saved', { exact: true })).toBeVisible();
  const { recipe } = await (await page.request.get(`${url}/api/pieces/${id}`)).json();
  const asked = await page.request.post(`${url}/api/pieces/${id}/trials`, {
    data: { recipe: { ...recipe, weigh: { ...recipe.weigh, kind: 'poster' } } },
  });
  const trial = (await asked.json()) as { id: string };
  const poster = () => page.request.get(`${url}/api/trials/${trial.id}/file`);
  await expect.poll(async () => (await poster()).status()).toBe(200);
  return sharp(await (await poster()).body())
    .ensureAlpha()
    .raw()
    .toBuffer({ resolveWithObject: true });
}
