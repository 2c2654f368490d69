import type { Page } from '@playwright/test';
import { readWithSharp } from '../packages/core/src/testing/independent-readers.js';
import { expect, test } from './application.js';
import { dragBy, enter, openOwnPiece, openStone, saveFile } from './hands.js';

const woven = (page: Page) => page.getByTestId('woven');

/** While the demo pieces are made, both cores are busy; looking whether a take can be woven waits for them. */
const PATIENT = { timeout: 150_000 };
test.setTimeout(360_000);

/** What the words say moves, per cent. */
async function movingPercent(page: Page): Promise<number> {
  await expect(woven(page)).toHaveAttribute('data-state', 'done', PATIENT);
  const words = (await woven(page).textContent()) ?? '';
  if (words.startsWith('Everything stands still')) return 0;
  return Number(/(\d+) % moves/.exec(words)?.[1]);
}

test('a kettle that never comes back is woven on advice, the curtain is held by a click, and saved', async ({
  page,
  url,
}) => {
  await openOwnPiece(page, url, 'kettle.mov', 'steam.mov', 'Loop');
  // No cut is good here: whether it can be woven is looked at by itself, and taken.
  const advice = page.getByTestId('weave-advice');
  await expect(advice).toContainText('moves in its own time', PATIENT);
  await advice.getByRole('button', { name: 'Weave it' }).click();
  await expect(page.getByRole('radio', { name: 'Woven' })).toBeChecked();
  const before = await movingPercent(page);
  expect(before).toBeGreaterThan(15);
  await expect(page.getByTestId('seam')).toContainText('seam score');

  // Less moves, and as much again.
  const slider = page.getByLabel('How much moves, number');
  await enter(slider, 10);
  await expect.poll(() => movingPercent(page)).toBeLessThan(before);
  await page.keyboard.press('Control+z');
  await expect.poll(() => movingPercent(page)).toBe(before);

  // The map shows what moves; a click on the curtain holds it.
  await woven(page).getByRole('button', { name: 'Show where' }).click();
  const map = page.getByTestId('weave-map');
  await expect(map).toBeVisible();
  const box = await map.boundingBox();
  if (!box) throw new Error('The map has no place.');
  await page.mouse.click(box.x + box.width * 0.09, box.y + box.height * 0.35);
  await expect(woven(page)).toContainText('Forget what one touch decided');
  await expect.poll(() => movingPercent(page)).toBeLessThan(before);
  const held = await movingPercent(page);
  expect(held).toBeGreaterThan(0);
  // A stroke sets free what it goes over.
  await page.mouse.move(box.x + box.width * 0.8, box.y + box.height * 0.85);
  await page.mouse.down();
  await page.mouse.move(box.x + box.width * 0.95, box.y + box.height * 0.85, { steps: 6 });
  await page.mouse.up();
  await expect(woven(page)).toContainText('2 touches');
  await expect.poll(() => movingPercent(page)).toBeGreaterThan(held);
  await page.keyboard.press('Control+z');
  await expect.poll(() => movingPercent(page)).toBe(held);

  // The file holds the curtain and moves the steam, over the joint as everywhere.
  const place = await page.getByTestId('reel-place').textContent();
  const round = Number(/of (\d+)/.exec(place ?? '')?.[1]);
  const { pictures, width, height } = await readWithSharp(await saveFile(page));
  expect(pictures.length).toBeGreaterThan(round / 2);
  const step = (a: Uint8Array, b: Uint8Array, left: number, right: number, top: number, bottom: number) => {
    let [sum, count] = [0, 0];
    for (let y = Math.floor(top * height); y < bottom * height; y++) {
      for (let x = Math.floor(left * width); x < right * width; x++, count++) {
        sum += (a[(y * width + x) * 4] - b[(y * width + x) * 4]) ** 2;
      }
    }
    return Math.sqrt(sum / count);
  };
  const last = pictures[pictures.length - 1];
  const steam = pictures.map((picture, i) => step(picture, pictures[i - 1] ?? last, 0.36, 0.48, 0.12, 0.36));
  expect(Math.max(...steam)).toBeGreaterThan(2);
  expect(steam[0]).toBeLessThanOrEqual(Math.max(...steam.slice(1)) * 1.2);
  const curtain = pictures.map((picture) => step(picture, pictures[0], 0.02, 0.2, 0.1, 0.6));
  expect(Math.max(...curtain)).toBeLessThan(1);
});

test('a joint is seen as a slice through time, along a line that is proposed, dragged and turned', async ({
  page,
  url,
}) => {
  await openOwnPiece(page, url, 'lantern.mp4', 'evening.mp4', 'Loop');
  await page.getByText('Slice', { exact: true }).click();
  const slice = page.getByTestId('slice');
  await expect(slice).toHaveAttribute('data-done', 'true', PATIENT);
  const pixels = () =>
    slice.evaluate((canvas: HTMLCanvasElement) => {
      const { width, height } = canvas;
      const { data } = (canvas.getContext('2d') as CanvasRenderingContext2D).getImageData(
        0,
        0,
        width,
        height,
      );
      return { width, height, sum: data.reduce((sum, value, i) => (sum + value * ((i % 251) + 1)) % 1e9, 0) };
    });
  const proposed = await pixels();
  expect(proposed.width).toBeGreaterThan(600);

  // Its two halves are the same round twice.
  const halves = await slice.evaluate((canvas: HTMLCanvasElement) => {
    const { width, height } = canvas;
    const context = canvas.getContext('2d') as CanvasRenderingContext2D;
    const half = (x: number) => [...context.getImageData(x, 0, width / 2, height).data];
    const [a, b] = [half(0), half(width / 2)];
    let off = 0;
    for (let i = 0; i < a.length; i++) off = Math.max(off, Math.abs(a[i] - b[i]));
    return { off, levels: new Set(a).size };
  });
  expect(halves.off).toBeLessThanOrEqual(2);
  expect(halves.levels).toBeGreaterThan(20);

  const line = page.getByRole('slider', { name: 'The line', exact: true });
  const words = await line.getAttribute('aria-valuetext');
  await line.focus();
  await page.keyboard.press('ArrowRight');
  await page.keyboard.press('ArrowDown');
  await expect(line).not.toHaveAttribute('aria-valuetext', words ?? '');
  await dragBy(page, page.getByRole('slider', { name: 'The line’s second end' }), -60, -40);
  await expect.poll(pixels).not.toEqual(proposed);
  await page.getByRole('button', { name: 'Propose a line where most moves' }).click();
  await expect(line).toHaveAttribute('aria-valuetext', words ?? '');
});

test('a span that is too short for its round says what is missing, and is widened', async ({ page, url }) => {
  await openOwnPiece(page, url, 'lantern.mp4', 'short.mp4', 'Loop');
  await page.getByText('Woven', { exact: true }).click();
  await movingPercent(page);
  await enter(page.getByLabel('Frames of a woven round'), 200);
  await expect(page.getByText(/needs \d+ more than the span has/)).toBeVisible();
  await page.getByRole('button', { name: 'Widen the span' }).click();
  await expect(page.getByText(/needs \d+ more than the span has/)).toBeHidden();
  await movingPercent(page);
  // In Still, a ripple of its own can be woven.
  await openStone(page, 'Still');
  await page.getByRole('button', { name: 'Propose from motion' }).click();
  await page.getByText('By itself', { exact: true }).first().click();
  await page.getByRole('combobox', { name: 'How its loop is joined' }).first().click();
  await page.getByRole('option', { name: 'Woven' }).click();
  await expect(page.getByTestId('own-seam').first()).toContainText(
    /its seam \d+.*(moves|stands still)/,
    PATIENT,
  );
  await expect(page.getByLabel('How much moves, number').first()).toHaveValue('60');
});
