import { readFileSync } from 'node:fs';
import type { Page } from '@playwright/test';
import sharp from 'sharp';
import { readWithSharp } from '../packages/core/src/testing/independent-readers.js';
import { expect, test } from './application.js';
import { enter, openOwnPiece, openStone, readPixels, saveFile } from './hands.js';

/** Paints from one place of the picture to another, shares of its sides. */
async function paint(page: Page, from: readonly [number, number], to: readonly [number, number]) {
  const box = await page.getByTestId('paint').boundingBox();
  if (!box) throw new Error('There is nothing to paint on.');
  await page.mouse.move(box.x + from[0] * box.width, box.y + from[1] * box.height);
  await page.mouse.down();
  // The paint that was there is read first; only then the stroke goes on.
  await expect(page.getByTestId('paint')).toHaveAttribute('data-painting', 'true');
  await page.mouse.move(box.x + to[0] * box.width, box.y + to[1] * box.height, { steps: 12 });
  await page.mouse.up();
  await expect(page.getByTestId('paint')).not.toHaveAttribute('data-painting', 'true');
}

/** The recipe as the server keeps it. */
async function saved(page: Page) {
  await expect(page.getByText('Saved')).toBeVisible();
  const id = page.url().split('/').at(-2);
  return page.evaluate(async (piece) => (await (await fetch(`/api/pieces/${piece}`)).json()).recipe, id);
}

/** For each place of a file, shares of its sides: does it ever change? */
async function changing(bytes: Buffer) {
  const { pictures, width, height } = await readWithSharp(bytes);
  const [first] = pictures;
  return (x: number, y: number) => {
    const i = (Math.floor(y * height) * width + Math.floor(x * width)) * 4;
    return pictures.some((picture) => [0, 1, 2].some((c) => picture[i + c] !== first[i + c]));
  };
}

test('a cinemagraph is painted while it plays; what is held never changes in the file', async ({
  page,
  url,
}) => {
  await openOwnPiece(page, url, 'kettle.mov', 'steam to be painted.mov', 'Still');
  await expect(page.getByText('Nothing is held')).toBeVisible();

  // The first stroke holds the frame and makes a ripple; it plays on.
  await paint(page, [0.42, 0.42], [0.36, 0.15]);
  await expect(page.getByRole('list', { name: 'Ripples' }).getByRole('listitem')).toHaveCount(1);
  await expect(page.getByRole('button', { name: 'Stop the reel' })).toBeVisible();
  const once = await saved(page);
  expect(once.still.plate.kind).toBe('frame');

  // A second stroke, calmed in part; each comes back to the pixel.
  await paint(page, [0.6, 0.3], [0.8, 0.3]);
  const twice = await saved(page);
  expect(twice.still.ripples[0].mask).not.toBe(once.still.ripples[0].mask);
  await page.keyboard.press('=');
  await expect(page.getByText('108 px')).toBeVisible();
  await page.keyboard.press('x');
  await paint(page, [0.6, 0.3], [0.8, 0.3]);
  await page.keyboard.press('Control+z');
  await page.keyboard.press('Control+z');
  await expect.poll(async () => (await saved(page)).still).toEqual(once.still);

  // Softer and wider by numbers; the muted view and back.
  await enter(page.getByLabel('Feather, px'), 12);
  await page.keyboard.press('m');
  await expect(page.getByRole('radio', { name: 'Plain' })).toBeChecked();

  const moves = await changing(await saveFile(page));
  expect(moves(0.4, 0.3)).toBe(true);
  for (const [x, y] of [
    [0.1, 0.3],
    [0.6, 0.7],
    [0.7, 0.3],
    [0.9, 0.95],
    [0.05, 0.9],
  ]) {
    expect(moves(x, y)).toBe(false);
  }
});

test('while the hand is down, the picture is within a level of what the steps then make of it', async ({
  page,
  url,
}) => {
  await openOwnPiece(page, url, 'kettle.mov', 'steam seen while painted.mov', 'Still');
  await page.getByRole('button', { name: 'Stop the reel' }).click();
  const canvas = page.getByTestId('stage').locator('canvas').first();
  await expect(canvas).toHaveAttribute('data-shows', 'steps');
  const pixels = async () => (await readPixels(canvas)).rgba;
  const asFilmed = await pixels();
  const ground = page.getByTestId('paint');
  const box = await ground.boundingBox();
  if (!box) throw new Error('There is nothing to paint on.');
  // The first stroke of a piece shows at once what it will hold.
  await page.mouse.move(box.x + 0.42 * box.width, box.y + 0.42 * box.height);
  await page.mouse.down();
  await page.mouse.move(box.x + 0.36 * box.width, box.y + 0.15 * box.height, { steps: 12 });
  await expect.poll(async () => furthest(await pixels(), asFilmed)).toBeGreaterThan(30);
  await page.mouse.up();
  await enter(page.getByLabel('Feather, px'), 0);
  await page.keyboard.press('m');
  // Away from the frame that is held, so that what moves differs from it.
  for (let step = 0; step < 9; step++) await page.keyboard.press('ArrowRight');
  await expect(page.getByText('Saved')).toBeVisible();
  await expect(canvas).toHaveAttribute('data-shows', 'steps');
  const before = await pixels();

  await page.mouse.move(box.x + 0.2 * box.width, box.y + 0.3 * box.height);
  await page.mouse.down();
  await expect(ground).toHaveAttribute('data-painting', 'true');
  await page.mouse.move(box.x + 0.15 * box.width, box.y + 0.6 * box.height, { steps: 8 });
  await expect(canvas).toHaveAttribute('data-shows', 'paint');
  await expect.poll(async () => furthest(await pixels(), before)).toBeGreaterThan(8);
  const painted = await pixels();
  await page.mouse.up();
  await expect(canvas).toHaveAttribute('data-shows', 'steps');
  const composed = await pixels();
  expect(furthest(composed, before)).toBeGreaterThan(8);
  expect(furthest(composed, painted)).toBeLessThanOrEqual(1);
});

/** The largest difference of two pictures, levels. */
function furthest(one: Uint8Array, other: Uint8Array): number {
  expect(one.length).toBe(other.length);
  return one.reduce((most, level, i) => Math.max(most, Math.abs(level - other[i])), 0);
}

test('what moves is proposed, the plate goes out and comes back retouched, another shape is fitted', async ({
  page,
  url,
}) => {
  await page.goto(url);
  await page.getByRole('link', { name: 'Open Wind bell, upright' }).click();
  await openStone(page, 'Still');
  await page.getByRole('button', { name: 'Propose from motion' }).click();
  await expect(page.getByText(/% of the picture moves/)).toBeVisible();

  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('link', { name: 'Save PNG' }).click(),
  ]);
  const plate = readFileSync(await download.path());
  const { width, height, format } = await sharp(plate).metadata();
  expect([width, height, format]).toEqual([540, 960, 'png']);

  const chooser = page.locator('input[type=file][accept="image/png"]');
  const small = await sharp(plate).resize(300, 300, { fit: 'fill' }).png().toBuffer();
  await chooser.setInputFiles({ name: 'square.png', mimeType: 'image/png', buffer: small });
  await expect(page.getByText(/“square.png” is 300 × 300 px, and the footage 540 × 960/)).toBeVisible();
  await page.getByRole('button', { name: 'Stretch it' }).click();
  await expect(page.getByText('Retouched')).toBeVisible();
  await page.getByRole('button', { name: 'Drop it' }).click();
  await expect(page.getByText('Retouched')).toBeHidden();

  // Painted red in its lower corner, it comes back.
  const mark = { create: { width: 200, height: 200, channels: 3 as const, background: '#e00000' } };
  const retouched = await sharp(plate)
    .composite([{ input: await sharp(mark).png().toBuffer(), left: 20, top: 740 }])
    .png()
    .toBuffer();
  await chooser.setInputFiles({ name: 'retouched.png', mimeType: 'image/png', buffer: retouched });
  await expect(page.getByText('Retouched')).toBeVisible();

  const bytes = await saveFile(page);
  const { pictures, width: w, height: h } = await readWithSharp(bytes);
  const at = (Math.floor(0.87 * h) * w + Math.floor(0.2 * w)) * 4;
  for (const picture of pictures) {
    expect(picture[at]).toBeGreaterThan(190);
    expect(picture[at + 1]).toBeLessThan(50);
  }
  const moves = await changing(bytes);
  expect(moves(0.55, 0.33)).toBe(true);
  expect(moves(0.2, 0.87)).toBe(false);
});

test('a ripple is outlined, its points moved and bent, and it moves in the file', async ({ page, url }) => {
  await page.goto(url);
  await page.getByRole('link', { name: 'Open Carp, circling' }).click();
  await openStone(page, 'Still');
  await page.getByText('Outline', { exact: true }).click();
  const ground = page.getByTestId('outline');
  const box = await ground.boundingBox();
  if (!box) throw new Error('There is nothing to draw on.');
  const at = (x: number, y: number) => [box.x + x * box.width, box.y + y * box.height] as const;
  const corners = [
    [0.4, 0.3],
    [0.6, 0.3],
    [0.6, 0.6],
    [0.4, 0.6],
  ] as const;
  for (const [i, [x, y]] of corners.entries()) {
    await page.mouse.click(...at(x, y));
    await expect(ground).toHaveAttribute('data-open', String(i + 1));
  }
  // The first point closes the line: a ripple, and the frame on the stage is held.
  await page.mouse.click(...at(0.4, 0.3));
  await expect(page.getByRole('list', { name: 'Ripples' }).getByRole('listitem')).toHaveCount(1);
  const [closed] = (await saved(page)).still.ripples[0].outlines;
  expect(closed.points).toHaveLength(4);
  expect(closed.points[0].x).toBeCloseTo(0.4, 2);

  await page.mouse.move(...at(0.6, 0.6));
  await page.mouse.down();
  await page.mouse.move(...at(0.75, 0.7), { steps: 6 });
  await page.mouse.up();
  await page.mouse.dblclick(...at(0.4, 0.6));
  await expect
    .poll(async () => (await saved(page)).still.ripples[0].outlines[0].points[3].smooth)
    .toBe(false);
  const [bent] = (await saved(page)).still.ripples[0].outlines;
  expect(bent.points[2].x).toBeCloseTo(0.75, 2);

  const moves = await changing(await saveFile(page));
  expect(moves(0.5, 0.45) || moves(0.52, 0.5) || moves(0.48, 0.4)).toBe(true);
  for (const [x, y] of [
    [0.1, 0.5],
    [0.9, 0.2],
    [0.3, 0.9],
  ]) {
    expect(moves(x, y)).toBe(false);
  }
});

test('a part is picked, goes round by itself, is steadied; the split shows it beside the take', async ({
  page,
  url,
}) => {
  await openOwnPiece(page, url, 'sideways.mp4', 'bell.mp4', 'Still');
  await page.getByText('Pick', { exact: true }).click();
  const parts = page.getByTestId('parts');
  const box = await parts.boundingBox();
  if (!box) throw new Error('There is nothing to pick from.');
  // The bell hangs a little right of the middle.
  await page.mouse.move(box.x + 0.55 * box.width, box.y + 0.33 * box.height);
  await expect
    .poll(async () => {
      await page.mouse.move(box.x + 0.551 * box.width, box.y + 0.33 * box.height);
      await page.mouse.move(box.x + 0.55 * box.width, box.y + 0.33 * box.height);
      return parts.getAttribute('data-pointed');
    })
    .not.toBeNull();
  await page.mouse.down();
  await page.mouse.up();
  await expect(page.getByRole('list', { name: 'Ripples' }).getByRole('listitem')).toHaveCount(1);

  await page.getByRole('button', { name: 'Find a loop for each' }).click();
  await expect(page.getByTestId('own-seam')).toContainText(/its seam \d+/);
  await expect.poll(async () => (await saved(page)).still.ripples[0].loop).not.toBeNull();
  const { span, still } = await saved(page);
  const { loop } = still.ripples[0];
  const factor = (span.end - span.start) / ((loop.span.end - loop.span.start) * loop.rounds);
  expect(factor).toBeGreaterThan(0.88);
  expect(factor).toBeLessThan(1.13);

  await page.getByRole('switch', { name: 'Steady' }).click();
  await expect(page.getByTestId('steady')).toContainText(/0\.\d+ px off/);
  await page.getByText('Split', { exact: true }).click();
  const line = page.getByRole('slider', { name: 'As filmed on the left, held on the right' });
  await line.press('ArrowRight');
  await expect(line).toHaveAttribute('aria-valuenow', '52');

  const bytes = await saveFile(page);
  const { pictures } = await readWithSharp(bytes);
  const moves = await changing(bytes);
  expect(pictures.length).toBeGreaterThan(5);
  expect(moves(0.55, 0.33)).toBe(true);
  expect(moves(0.1, 0.9)).toBe(false);
  expect(moves(0.9, 0.1)).toBe(false);
});
