import { readFileSync } from 'node:fs';
import { readWithSharp } from '../packages/core/src/testing/independent-readers.js';
import { clipFolder } from '../packages/server/test/clips.js';
import { expect, test } from './application.js';
import { chooseKind, dropFile, enter, openOwnPiece, openStone, saveFile } from './hands.js';

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

test('another kind is tried and left again: the same file, its own reel, and the seam of what is cropped', async ({
  page,
  url,
}) => {
  test.setTimeout(180_000);
  const clips = clipFolder();
  try {
    // Sixty frames a second, which a movie shows and a GIF does not; in its left half a disc only grows.
    const left = "lum='if(lt(hypot(X-48,Y-48),8+T*18),220,40)'";
    const right = "lum='128+100*sin(X/9)*sin(2*PI*T*2)'";
    const clip = clips.make(
      'quick.mp4',
      ...['-f', 'lavfi', '-i', `nullsrc=s=96x96:r=60:d=2,geq=${left}:cb=128:cr=128`],
      ...['-f', 'lavfi', '-i', `nullsrc=s=96x96:r=60:d=2,geq=${right}:cb=128:cr=128`],
      ...['-filter_complex', 'hstack', '-c:v', 'libx264', '-crf', '12', '-pix_fmt', 'yuv420p'],
    );
    await page.goto(url);
    await dropFile(page, 'quick.mp4', readFileSync(clip));
    await expect(page).toHaveURL(/\/cut$/);
    await openStone(page, 'Weigh');
    const [weight, isReal] = [page.getByTestId('weight'), page.getByText('the real file, playing')];
    await expect(isReal).toBeVisible();
    const bytes = await weight.getAttribute('data-bytes');
    await chooseKind(page, 'WebP');
    await expect(weight).not.toHaveAttribute('data-bytes', bytes ?? '');
    await enter(page.getByLabel('Quality, number'), 30);
    await expect(isReal).toBeVisible();
    await chooseKind(page, 'GIF');
    await expect(weight).toHaveAttribute('data-bytes', bytes ?? '');
    await expect(isReal).toBeVisible();
    expect((await saveFile(page)).length).toBe(Number(bytes));

    await openStone(page, 'Weigh');
    await chooseKind(page, 'MP4');
    await enter(page.getByLabel('Frame rate, fps'), 60);
    await openStone(page, 'Loop');
    const place = page.getByTestId('reel-place');
    await expect(place).toHaveText(/of 120$/);
    await openStone(page, 'Weigh');
    await chooseKind(page, 'GIF');
    await openStone(page, 'Loop');
    // A GIF counts hundredths of a second, of which viewers show two at least: fifty a second.
    await expect(place).toHaveText(/of ([1-9]\d|100)$/);

    // Cropped to the half that swings, the footage meets itself.
    const seam = page.getByTestId('seam');
    await expect(seam).toBeVisible();
    const score = Number(await seam.getAttribute('data-score'));
    await openStone(page, 'Cut');
    await enter(page.getByLabel('Crop width'), 90);
    await enter(page.getByLabel('Crop from the left'), 102);
    await openStone(page, 'Loop');
    await expect(seam).not.toHaveAttribute('data-stale');
    await expect.poll(async () => Number(await seam.getAttribute('data-score'))).toBeGreaterThan(score + 10);
  } finally {
    clips.remove();
  }
});
