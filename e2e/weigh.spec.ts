import { readWithSharp } from '../packages/core/src/testing/independent-readers.js';
import { expect, test } from './application.js';
import { enter, openOwnPiece, openStone, saveFile } from './hands.js';

test('a setting is changed, compared by wipe, fitted under a limit and saved with the bytes that were shown', async ({
  page,
  url,
}) => {
  // Three fits are up to eighteen encodes.
  test.setTimeout(400_000);
  await page.goto(`${url}/limits`);
  // A destination of our own, small enough to have something to give up.
  await page.getByRole('button', { name: 'Add a destination' }).click();
  const name = page.getByLabel('Name of New destination');
  await name.fill('Menu board');
  await name.press('Enter');
  await enter(page.getByLabel('Weight that Menu board accepts, KB'), 60);
  await enter(page.getByLabel('Width that Menu board accepts, px'), 240);
  await expect(page.getByLabel('Width that Menu board accepts, px')).toHaveValue('240 px');

  await openOwnPiece(page, url, 'kettle.mov', 'steam.mov', 'Weigh');
  const weight = page.getByTestId('weight');
  await expect(page.getByText('the real file, playing')).toBeVisible();
  const rows = page.getByRole('region', { name: 'Trials' }).getByRole('row');
  const first = (await rows.count()) - 1;

  // Another trial by a change, named and pinned.
  await enter(page.getByLabel('Width, px'), 200);
  await expect(rows).toHaveCount(first + 2);
  await expect(page.getByText('the real file, playing')).toBeVisible();
  await expect(page.getByText(/200 × /).first()).toBeVisible();
  const letter = await rows.last().getByRole('button').first().textContent();
  await page.getByLabel(`Name of trial ${letter}`).fill('narrow');
  await page.getByLabel(`Name of trial ${letter}`).press('Enter');
  await page.getByRole('button', { name: `Pin trial ${letter}` }).click();
  await expect(page.getByRole('button', { name: `Unpin trial ${letter}` })).toBeVisible();

  // Under the wipe both stand at the same moment; the line moves by pointer and keys, C shows the other one.
  await page.getByText('Wipe', { exact: true }).click();
  const line = page.getByRole('slider', { name: /source on the left/ });
  await line.press('ArrowLeft');
  await expect(line).toHaveAttribute('aria-valuenow', '48');
  await expect(page.getByRole('img', { name: `Trial ${letter}, picture by picture` })).toBeVisible();
  await page.keyboard.down('c');
  await expect(page.getByRole('img', { name: `Trial ${letter}, picture by picture` })).toBeHidden();
  await page.keyboard.up('c');
  await page.getByText('Side by side', { exact: true }).click();
  await expect(page.getByRole('figure')).toHaveCount(2);
  await page.getByText('The file', { exact: true }).click();

  // Over or under, and three files that fit; one is taken and saved.
  await page.locator('input[aria-label="Limit"]').click();
  await page.getByRole('option', { name: /Menu board/ }).click();
  await page.getByRole('button', { name: 'Fit under 60 KB' }).click();
  await page.getByRole('button', { name: /Keep it smooth/ }).click({ timeout: 200_000 });
  await expect(page.getByTestId('verdict')).toContainText('under');
  const shown = Number(await weight.getAttribute('data-bytes'));
  expect(shown).toBeLessThanOrEqual(60_000);
  expect(shown).toBeGreaterThan(0.85 * 60_000);
  const bytes = await saveFile(page);
  expect(bytes.length).toBe(shown);
  expect((await readWithSharp(bytes)).width).toBeLessThanOrEqual(240);

  // A limit that nothing keeps says what would help; other trials stay.
  await page.goto(`${url}/limits`);
  await enter(page.getByLabel('Weight that Menu board accepts, KB'), 1);
  await page.goBack();
  await openStone(page, 'Weigh');
  await page.getByRole('button', { name: /Fit/ }).click();
  await expect(
    page.getByText(/Even \d+ px wide.*To fit, shorten it to about|To fit, take a larger limit/),
  ).toBeVisible({
    timeout: 60_000,
  });
});

test('one palette is chosen, and short delays are played as viewers draw them out, with the remedy in one click', async ({
  page,
  url,
}) => {
  await openOwnPiece(page, url, 'sideways.mp4', 'short delays.mp4', 'Weigh');
  await expect(page.getByText('the real file, playing')).toBeVisible();
  await expect(page.getByRole('heading', { name: /2 palettes · \d+ colours/ })).toBeVisible();
  await page.getByRole('combobox', { name: 'Palettes' }).click();
  await page.getByRole('option', { name: 'One for the loop' }).click();
  await expect(page.getByRole('heading', { name: 'Palette · 255 colours' })).toBeVisible();

  await enter(page.getByLabel('Width, px'), 120);
  await enter(page.getByLabel('Frame rate, fps'), 25);
  await expect(page.getByText(/25 fps · 120 × /)).toBeVisible();
  await expect(page.getByText(/are drawn out by some viewers/)).toBeVisible();
  const real = page.getByTestId('stage').getByRole('img', { name: /The file of trial/ });
  await expect(real).toBeVisible();
  await page.getByText('Drawn out', { exact: true }).click();
  await expect(page.getByText('the real file, short delays drawn out')).toBeVisible();
  const drawnOut = page.getByTestId('stage').getByRole('img', { name: /picture by picture/ });
  // It plays: the moment moves on.
  const moment = async () => Number(await drawnOut.getAttribute('data-at'));
  const before = await moment();
  await expect.poll(moment).toBeGreaterThan(before + 20);

  await page.getByRole('button', { name: 'Half the frames, twice the delay' }).click();
  await expect(page.getByText(/12 fps · 120 × |12\.\d+ fps · 120 × /)).toBeVisible();
  await expect(page.getByText('Drawn out', { exact: true })).toBeHidden();
  await expect(real).toBeVisible();
  const { delaysCs } = await readWithSharp(await saveFile(page));
  expect(Math.min(...delaysCs)).toBeGreaterThanOrEqual(6);
});
