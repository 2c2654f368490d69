import { readFileSync } from 'node:fs';
import { readWithSharp } from '../packages/core/src/testing/independent-readers.js';
import { clipFolder, NUMBERED_WIDTH, numberedFrames, readNumber } from '../packages/server/test/clips.js';
import { expect, test } from './application.js';
import { dragHandle, dropFile, enter, openStone, saveLink, scrubTo } from './hands.js';

const FRAMES = 120;
const RATE = 30;

test('from a dropped file to the saved GIF', async ({ page, url }) => {
  const clips = clipFolder();
  try {
    const clip = clips.make(
      'pond walk.mp4',
      ...numberedFrames(FRAMES, RATE),
      '-c:v',
      'libx264',
      '-crf',
      '10',
      '-g',
      '40',
    );
    await page.goto(url);
    await dropFile(page, 'pond walk.mp4', readFileSync(clip));
    await expect(page).toHaveURL(/\/cut$/);
    await expect(page.getByText('120 frames · 4.00 s · 30 fps')).toBeVisible();
    const canvas = page.getByTestId('stage').locator('canvas');

    // Scrub, step, and mark by key.
    await scrubTo(page, 30, FRAMES);
    await expect(canvas).toHaveAttribute('data-frame', '30');
    await page.keyboard.press('ArrowLeft');
    await page.keyboard.press('Shift+ArrowRight');
    await expect(canvas).toHaveAttribute('data-frame', '39');
    await page.keyboard.press('s');
    await expect(page.getByLabel('Start, frame')).toHaveValue('39');

    // By number, by handle, and back by undo.
    await enter(page.getByLabel('Start, frame'), 42);
    await dragHandle(page, 'End of the span', 108, FRAMES);
    await expect(page.getByLabel('End, frame')).toHaveValue('108');
    await enter(page.getByLabel('Length, frames'), 60);
    await expect(page.getByLabel('End, seconds')).toHaveValue('3.40 s');
    // Space belongs to a button that was reached by key, not to playing.
    await page.getByRole('button', { name: 'Undo' }).focus();
    await page.keyboard.press('Space');
    await expect(page.getByLabel('End, frame')).toHaveValue('108');
    await page.keyboard.press('Control+Shift+z');
    await expect(page.getByLabel('End, frame')).toHaveValue('102');

    // The span loops at true speed, and only the span. After a click on a button, Space still plays.
    await page.getByRole('button', { name: 'Play the span' }).click();
    await page.keyboard.press('Space');
    await expect(page.getByRole('button', { name: 'Play the span' })).toBeVisible();
    await page.keyboard.press('Space');
    const seen = new Set<number>();
    await expect
      .poll(
        async () => {
          seen.add(Number(await canvas.getAttribute('data-frame')));
          return [...seen].filter((frame) => frame >= 42 && frame < 102).length;
        },
        { intervals: [20], timeout: 60_000 },
      )
      .toBeGreaterThan(15);
    // Looked at often: a look a second would fall into step with a loop of two seconds.
    const often = { intervals: [30] };
    const shownFrame = async () => Number(await canvas.getAttribute('data-frame'));
    await expect.poll(shownFrame, often).toBeGreaterThan(95);
    await expect.poll(shownFrame, often).toBeLessThan(60);
    await page.keyboard.press('Space');

    // A reload comes back to the same place.
    await scrubTo(page, 77, FRAMES);
    await expect(page.getByText('Saved', { exact: true })).toBeVisible();
    await page.reload();
    await expect(canvas).toHaveAttribute('data-frame', /\d+/);
    await expect(page.getByLabel('Start, frame')).toHaveValue('42');
    await expect(page.getByLabel('End, frame')).toHaveValue('102');

    // Weigh: each change makes a file, and the stage plays that very file.
    await openStone(page, 'Weigh');
    await enter(page.getByLabel('Frame rate, fps'), 10);
    await enter(page.getByLabel('Colours, number'), 64);
    await page.getByRole('combobox', { name: 'Dither' }).click();
    await page.getByRole('option', { name: 'None' }).click();
    await page.getByText('Near lossless').click();
    const weight = page.getByTestId('weight');
    await expect(page.locator('tr[aria-current=true]')).toContainText('no dither, settle 1.8, squeeze 1.8');
    await expect(page.getByText('the real file, playing')).toBeVisible();
    await expect(page.getByText('10 fps · 160 × 48')).toBeVisible();
    const lastLetter = await page.getByTestId('stage').locator('img').getAttribute('data-trial');
    const bytes = Number(await weight.getAttribute('data-bytes'));

    // Another setting, then back to the one before by its row.
    await enter(page.getByLabel('Colours, number'), 8);
    await expect(page.getByText('the real file, playing')).toBeVisible();
    await expect(page.getByTestId('stage').locator('img')).not.toHaveAttribute(
      'data-trial',
      String(lastLetter),
    );
    await page.getByRole('button', { name: `Go back to trial ${lastLetter}` }).click();
    await expect(page.getByTestId('stage').locator('img')).toHaveAttribute('data-trial', String(lastLetter));
    await expect(weight).toHaveAttribute('data-bytes', String(bytes));

    // Send: saved under a name; the file has the bytes that were shown, and the frames that were cut.
    await openStone(page, 'Send');
    await page.getByLabel('Name', { exact: true }).fill('Walk: by the pond');
    await page.getByLabel('Name', { exact: true }).blur();
    await expect(
      page.getByText('<img src="Walk%20by%20the%20pond.gif" width="160" height="48"'),
    ).toBeVisible();
    const [download] = await Promise.all([page.waitForEvent('download'), saveLink(page).click()]);
    expect(download.suggestedFilename()).toBe('Walk by the pond.gif');
    const saved = readFileSync(await download.path());
    expect(saved.length).toBe(bytes);
    const { pictures, delaysCs, plays } = await readWithSharp(saved);
    expect(delaysCs).toEqual(Array.from({ length: 20 }, () => 10));
    expect(plays).toBe(0);
    expect(pictures.map((picture) => readNumber(picture, 4, NUMBERED_WIDTH))).toEqual(
      Array.from({ length: 20 }, (_, i) => 42 + i * 3),
    );

    // The shelf plays it.
    await page.getByRole('link', { name: /back to the shelf/ }).click();
    await expect(page.getByRole('link', { name: 'Open Pond walk' }).locator('img')).toHaveAttribute(
      'src',
      /\/file$/,
    );
  } finally {
    clips.remove();
  }
});

test('a file that is no video is refused in a sentence, and the shelf goes on', async ({ page, url }) => {
  await page.goto(url);
  await dropFile(page, 'menu.mp4', Buffer.from('Autumn menu: chestnut tea'));
  await expect(page.getByText('“menu.mp4” is neither a video nor a picture that can be read')).toBeVisible();
  await page.getByRole('button', { name: 'Dismiss' }).click();
  await expect(page.getByText('“menu.mp4”')).toHaveCount(0);

  await page.getByRole('button', { name: 'More for Carp, circling' }).click();
  await page.getByRole('menuitem', { name: 'Delete' }).click();
  await expect(page.getByRole('link', { name: 'Open Carp, circling' })).toHaveCount(0);
  await page.getByRole('button', { name: 'Put it back' }).click();
  await expect(page.getByRole('link', { name: 'Open Carp, circling' })).toBeVisible();
  await page.keyboard.press('/');
  // By its name: other journeys make pieces of their own over the same footage.
  await page.keyboard.type('first kettle of');
  await expect(page.getByRole('article')).toHaveCount(1);
});
