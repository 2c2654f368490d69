import type { Page } from '@playwright/test';
import { readWithSharp } from '../packages/core/src/testing/independent-readers.js';
import { expect, test } from './application.js';
import { enter, openOwnPiece, openStone, saveFile } from './hands.js';

/** Measuring joints of a whole take, beside whatever else the machine does. */
const PATIENT = { timeout: 120_000 };

const score = async (page: Page) => Number(await page.getByTestId('seam').getAttribute('data-score'));

/** Mean difference from each picture to the next, the last one to the first. */
function stepsOf(pictures: readonly ArrayLike<number>[]): number[] {
  return pictures.map((picture, i) => {
    const next = pictures[(i + 1) % pictures.length];
    let sum = 0;
    for (let b = 0; b < picture.length; b++) sum += Math.abs(picture[b] - next[b]);
    return sum / picture.length;
  });
}

test('footage that never comes back is joined by a flow, looked at as a slice, weighed and saved', async ({
  page,
  url,
}) => {
  test.setTimeout(300_000);
  await openOwnPiece(page, url, 'lantern.mp4', 'off its swing.mp4', 'Loop');
  await enter(page.getByLabel('Longest loop, s', { exact: true }), 2.1);
  await enter(page.getByLabel('Shortest loop, s', { exact: true }), 1.9);
  const places = page.getByRole('list', { name: 'Places to join' }).getByRole('button');
  const flowing = places.filter({ hasText: 'Flowed' });
  await expect(page.getByText('No cut in this take goes unnoticed')).toBeVisible(PATIENT);
  await expect(flowing.first()).toBeVisible(PATIENT);
  await expect(page.getByLabel('being measured')).toHaveCount(0, PATIENT);
  await expect(page.locator('svg g[data-led]')).toHaveCount(await flowing.count());
  const figures = await places.filter({ hasText: 'Cut' }).locator(':scope > :last-child').allTextContents();
  const bestCut = Math.max(...figures.map(Number));

  await flowing.first().click();
  await expect(page.getByRole('radio', { name: 'Flowed' })).toBeChecked();
  await expect(page.getByTestId('flow-note')).toContainText(/follow/, PATIENT);
  await expect(
    page.getByText(/none added. Things move over from the end to the start in \d+ frames/),
  ).toBeVisible();
  await expect.poll(() => score(page), PATIENT).toBeGreaterThan(Math.max(75, bestCut));
  // One undo step brings span and join back.
  await page.keyboard.press('Control+z');
  await expect(page.getByRole('radio', { name: 'Cut' })).toBeChecked();
  await page.keyboard.press('Control+Shift+z');
  await expect(page.getByRole('radio', { name: 'Flowed' })).toBeChecked();

  await page.getByText('Slice', { exact: true }).click();
  await expect(page.getByTestId('slice')).toHaveAttribute('data-done', 'true', PATIENT);

  // What is kept from frame to frame would begin anew at the joint.
  await openStone(page, 'Weigh');
  await enter(page.getByLabel('Squeeze, levels'), 0);
  await enter(page.getByLabel('Settle, levels'), 0);
  await expect(page.getByText('the real file, playing')).toBeVisible(PATIENT);
  const { pictures } = await readWithSharp(await saveFile(page));
  const steps = stepsOf(pictures);
  const others = steps.slice(0, -1);
  expect(steps[steps.length - 1]).toBeLessThan(1.3 * Math.max(...others));

  // Cut at the same place, the step over the joint is larger than all others.
  await openStone(page, 'Loop');
  await page.getByRole('radiogroup', { name: 'Joined by' }).getByText('Cut', { exact: true }).click();
  await expect.poll(() => score(page), PATIENT).toBeLessThan(bestCut + 5);
  await openStone(page, 'Weigh');
  await expect(page.getByText('the real file, playing')).toBeVisible(PATIENT);
  const cut = stepsOf((await readWithSharp(await saveFile(page))).pictures);
  expect(cut).toHaveLength(steps.length);
  expect(cut[cut.length - 1]).toBeGreaterThan(1.3 * steps[steps.length - 1]);
});
