import { readFileSync } from 'node:fs';
import type { Locator, Page } from '@playwright/test';
import { readWithSharp } from '../packages/core/src/testing/independent-readers.js';
import { clipFolder, goingRound, NUMBERED_WIDTH, readNumber } from '../packages/server/test/clips.js';
import { expect, test } from './application.js';
import { dropFile, enter, openOwnPiece, openStone, saveFile } from './hands.js';

const FRAMES = 140;
const RATE = 25;
/** Frames in which the light goes round once. */
const PERIOD = 40;

/** Which frames a saved file shows, and for how long each. */
async function shownBy(bytes: Buffer) {
  const { pictures, delaysCs, plays, width } = await readWithSharp(bytes);
  expect(width).toBe(NUMBERED_WIDTH);
  return { numbers: pictures.map((picture) => readNumber(picture, 4, width)), delaysCs, plays };
}

const score = async (page: Page) => Number(await page.getByTestId('seam').getAttribute('data-score'));

test('a loop is found and taken, closed, held, thinned and saved', async ({ page, url }) => {
  const clips = clipFolder();
  try {
    const clip = clips.make(
      'light on the pond.mp4',
      ...goingRound(FRAMES, RATE, PERIOD),
      ...['-c:v', 'libx264', '-crf', '8', '-g', '30'],
    );
    await page.goto(url);
    await dropFile(page, 'light on the pond.mp4', readFileSync(clip));
    await expect(page).toHaveURL(/\/cut$/);
    // What stands above the light never comes back: it is cut off while looking.
    await enter(page.getByLabel('Crop height'), 80);
    await enter(page.getByLabel('Crop from the top'), 32);
    await openStone(page, 'Loop');

    // Found, played under the pointer, and taken.
    const places = page.getByRole('list', { name: 'Places to join' }).getByRole('button');
    await expect(places.first()).toBeVisible();
    await enter(page.getByLabel('Longest loop, s', { exact: true }), 2);
    await expect(page.getByLabel('being measured')).toHaveCount(0);
    await expect(places.first()).toContainText('1.60 s');
    await places.first().hover();
    await expect(page.getByTestId('reel-place')).toContainText('of 20');
    await places.first().click();
    await expect(places.first()).toHaveAttribute('aria-pressed', 'true');
    await expect.poll(() => score(page)).toBeGreaterThan(92);
    await expect(page.getByRole('link', { name: /Loop seam 9|Loop seam 100/ })).toBeVisible();

    // One frame off at the joint is told at once, and comes back.
    const found = await score(page);
    for (let i = 0; i < 3; i++) await page.getByRole('button', { name: 'End one frame later' }).click();
    await expect.poll(() => score(page)).toBeLessThan(found - 3);
    for (let i = 0; i < 3; i++) await page.keyboard.press('Control+z');
    await expect.poll(() => score(page)).toBe(found);

    // The joint seen from every side.
    const canvas = page.getByTestId('stage').locator('canvas');
    await page.keyboard.press('g');
    await expect(page.getByRole('img', { name: 'The last frame as a ghost over the first' })).toBeVisible();
    await page.keyboard.press('d');
    await expect(page.getByRole('img', { name: /What differs/ })).toBeVisible();
    await expect.poll(() => canvas.evaluate(lightest)).toBeGreaterThan(60);
    await page.getByText('Ends', { exact: true }).click();
    await expect(page.getByRole('img', { name: /The last frame/ })).toBeVisible();
    await page.keyboard.press('l');
    await expect(page.getByRole('button', { name: 'Play only the joint', pressed: true })).toBeVisible();
    await page.keyboard.press('l');

    // All of the picture again, every source frame; one frame held, the rest thinned.
    await openStone(page, 'Cut');
    await enter(page.getByLabel('Crop from the top'), 0);
    await enter(page.getByLabel('Crop height'), 112);
    const start = Number(await page.getByLabel('Start, frame').inputValue());
    await openStone(page, 'Weigh');
    await enter(page.getByLabel('Frame rate, fps'), RATE);
    await openStone(page, 'Loop');
    await page.getByRole('region', { name: 'Footage strip' }).getByText('Reel', { exact: true }).click();
    const frame = (place: number) =>
      page.getByRole('option', { name: new RegExp(`^Frame ${place + 1} of the reel`) });
    await expect(page.getByText(`${PERIOD} frames · 1.60 s a round`)).toBeVisible();
    await page.getByRole('button', { name: 'Thin' }).click();
    await expect(page.getByText('20 frames · 1.60 s a round')).toBeVisible();
    await frame(2).click();
    await enter(page.getByLabel('Show each for, seconds'), 1);
    await expect(page.getByText('20 frames · 2.52 s a round')).toBeVisible();
    // A frame is dragged to the other side of the joint.
    await drag(page, frame(0), frame(19));
    await expect(frame(18)).toContainText(String(start));
    await page.keyboard.press('Control+z');
    await expect(frame(0)).toContainText(String(start));

    await openStone(page, 'Weigh');
    await enter(page.getByLabel('Squeeze, levels'), 0);
    await enter(page.getByLabel('Settle, levels'), 0);
    await expect(page.getByText('the real file, playing')).toBeVisible();
    const { numbers, delaysCs, plays } = await shownBy(await saveFile(page));
    expect(numbers).toEqual(Array.from({ length: 20 }, (_, i) => start + 2 * i));
    expect(delaysCs).toEqual(Array.from({ length: 20 }, (_, i) => (i === 2 ? 100 : 8)));
    expect(plays).toBe(0);
  } finally {
    clips.remove();
  }
});

test('a take without a good cut says so; melted, or there and back, it is closed', async ({ page, url }) => {
  await openOwnPiece(page, url, 'kettle.mov', 'steam that never comes back.mov', 'Cut');
  await enter(page.getByLabel('Start, frame'), 40);
  await enter(page.getByLabel('End, frame'), 118);
  await openStone(page, 'Loop');
  await expect(page.getByText('No cut in this take goes unnoticed')).toBeVisible();
  const cut = await score(page);
  expect(cut).toBeLessThan(85);
  await page.getByRole('button', { name: 'Take it' }).click();
  await expect(page.getByText(/none added. The last \d+ melt into/)).toBeVisible();
  await expect.poll(() => score(page)).toBeGreaterThan(85);

  // A crossfade longer than what lies before the start is told, and the longest is offered.
  await openStone(page, 'Cut');
  await enter(page.getByLabel('Start, frame'), 4);
  await openStone(page, 'Loop');
  await page.getByRole('button', { name: /Make it \d/ }).click();
  await expect(page.getByText(/none added/)).toBeVisible();

  await page.getByText('There & back').click();
  await expect(page.getByText(/more for the way back/)).toBeVisible();
  await page.getByText('Backwards').click();
  await enter(page.getByLabel('Make the span last, seconds'), 3);
  await expect(page.getByLabel('Make the span last, seconds')).toHaveValue('3.00 s');
  await expect(page.getByText(/frames a second: from 0\.\d+ s to 0\.\d+ s each/)).toBeVisible();
  await page.getByRole('button', { name: / fps$/ }).first().click();
  await expect(page.getByText(/frames a second: each for 0\.\d+ s/)).toBeVisible();
  await page.getByText('n times').click();
  await expect(page.getByText(/Seen 3 times/)).toBeVisible();
});

/** The lightest value of a canvas. Runs in the page. */
function lightest(canvas: HTMLCanvasElement | SVGElement): number {
  const context = (canvas as HTMLCanvasElement).getContext('2d') as CanvasRenderingContext2D;
  const { data } = context.getImageData(0, 0, context.canvas.width, context.canvas.height);
  return data.reduce((most, value, i) => (i % 4 === 3 ? most : Math.max(most, value)), 0);
}

async function drag(page: Page, what: Locator, before: Locator) {
  const [from, to] = [await what.boundingBox(), await before.boundingBox()];
  if (!from || !to) throw new Error('The frames are not on the screen.');
  await page.mouse.move(from.x + 30, from.y + 30);
  await page.mouse.down();
  await page.mouse.move(to.x + 40, to.y + 30, { steps: 4 });
  await page.mouse.move(to.x + 6, to.y + 30, { steps: 4 });
  await page.mouse.up();
}
