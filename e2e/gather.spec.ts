import { execFileSync } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import sharp from 'sharp';
import { readWithSharp } from '../packages/core/src/testing/independent-readers.js';
import { clipFolder } from '../packages/server/test/clips.js';
import { expect, test } from './application.js';
import { dragBy, dropFiles, enter, openStone, saveFile } from './hands.js';

const DEMO = fileURLToPath(new URL('../demo/footage/', import.meta.url));

const flat = async (name: string, width: number, height: number, colour: string) => ({
  name,
  bytes: await sharp({ create: { width, height, channels: 3, background: colour } })
    .png()
    .toBuffer(),
});

/** The colour of one pixel of a picture, RGB. */
const colourAt = (picture: Uint8Array, width: number, x: number, y: number) => [
  ...picture.subarray((y * width + x) * 4, (y * width + x) * 4 + 3),
];

test('pictures in, ordered, fitted, saved as a loop', async ({ page, url }) => {
  await page.goto(url);
  await dropFiles(page, [
    await flat('panel 10.png', 120, 120, '#0000ff'),
    await flat('panel 9.png', 200, 100, '#ff0000'),
    { name: 'panel 11.png', bytes: Buffer.from('no picture at all') },
    await flat('panel 1.png', 100, 200, '#00aa00'),
  ]);
  // The broken one is named, and the rest goes on.
  await expect(page).toHaveURL(/\/gather$/);
  const rows = page.getByRole('list', { name: 'Pictures in their order' }).getByRole('listitem');
  await expect(rows).toHaveText([/panel 1\.png/, /panel 9\.png/, /panel 10\.png/]);
  await expect(page.getByText('3 frames · 6.00 s')).toBeVisible();

  // Ordered: reversed, then the last one dragged to the top.
  await page.getByRole('button', { name: 'Reversed' }).click();
  await expect(rows).toHaveText([/panel 10\.png/, /panel 9\.png/, /panel 1\.png/]);
  const grip = page.getByRole('button', { name: 'Move panel 1.png' });
  await dragBy(page, grip, 0, -112);
  await expect(rows).toHaveText([/panel 1\.png/, /panel 10\.png/, /panel 9\.png/]);

  // Fitted: one canvas, a matte, and one picture with a rule of its own.
  await enter(page.getByLabel('Canvas width'), 120);
  await enter(page.getByLabel('Canvas height'), 60);
  await page.getByRole('button', { name: 'More for panel 10.png' }).click();
  await page.getByRole('menuitem', { name: 'Stretch' }).click();
  await expect(rows.nth(1)).toContainText('stretch');
  await page.getByLabel('Matte colour').fill('#ffcc00');
  await page.getByLabel('Matte colour').blur();
  await enter(page.getByLabel('Each picture for, seconds'), 0.25);
  await expect(page.getByText('3 frames · 0.75 s')).toBeVisible();
  // Everything so far is undone and done again, step by step.
  await page.keyboard.press('Control+z');
  await expect(page.getByText('3 frames · 6.00 s')).toBeVisible();
  await page.keyboard.press('Control+Shift+z');

  await openStone(page, 'Weigh');
  await expect(page.getByText('the real file, playing')).toBeVisible();
  const { pictures, delaysCs } = await readWithSharp(await saveFile(page));
  expect(delaysCs).toEqual([25, 25, 25]);
  // The tall one stands whole in the middle, with the matte beside it; the square one is stretched; the wide
  // one whole.
  expect(colourAt(pictures[0], 120, 60, 30)).toEqual([0, 170, 0]);
  expect(colourAt(pictures[0], 120, 10, 30)).toEqual([255, 204, 0]);
  expect(colourAt(pictures[1], 120, 4, 4)).toEqual([0, 0, 255]);
  expect(colourAt(pictures[2], 120, 4, 30)).toEqual([255, 0, 0]);

  await page.getByRole('link', { name: /back to the shelf/ }).click();
  await expect(page.getByText('“panel 11.png” is neither a video nor a picture')).toBeVisible();
  await expect(page.getByText('3 pictures · 0.75 s')).toBeVisible();
});

test('a turned phone clip, cropped square', async ({ page, url }) => {
  const clips = clipFolder();
  try {
    // Upright it is red above, blue below, 96 × 160; it is stored lying.
    const flatClip = clips.make(
      'lying.mp4',
      ...['-f', 'lavfi', '-i', 'color=c=blue:s=160x96:r=20:d=1.5'],
      ...['-vf', 'drawbox=x=0:y=0:w=80:h=96:c=red:t=fill,format=yuv444p', '-c:v', 'libx264', '-crf', '8'],
    );
    const phone = join(clips.path, 'phone.mp4');
    execFileSync('ffmpeg', [
      '-v',
      'error',
      '-i',
      flatClip,
      '-c',
      'copy',
      '-metadata:s:v:0',
      'rotate=270',
      phone,
    ]);
    await page.goto(url);
    await dropFiles(page, [{ name: 'phone.mp4', bytes: readFileSync(phone) }]);
    await expect(page).toHaveURL(/\/cut$/);
    await page.getByText('1:1', { exact: true }).click();
    await expect(page.getByLabel('Crop width')).toHaveValue('96');
    await expect(page.getByLabel('Crop height')).toHaveValue('96');
    await expect(page.getByLabel('Crop from the top')).toHaveValue('32');

    // Dragged up to the red half, moved by keys, then by number.
    await dragBy(page, page.locator('.ReactCrop__crop-selection'), 0, -400);
    await expect(page.getByLabel('Crop from the top')).toHaveValue('0');
    await page.locator('.ReactCrop__crop-selection').focus();
    await page.keyboard.press('Shift+ArrowDown');
    await expect(page.getByLabel('Crop from the top')).not.toHaveValue('0');
    await enter(page.getByLabel('Crop height'), 64);
    await enter(page.getByLabel('Crop from the top'), 0);
    await expect(page.getByLabel('Crop width')).toHaveValue('64');
    await expect(page.getByText('Nothing is enlarged: the file will be 64 px wide.')).toBeVisible();

    // Seen against any frame of the span: the crop stays where it is while one scrubs.
    const selection = page.locator('.ReactCrop__crop-selection');
    const before = await selection.boundingBox();
    await page.keyboard.press('Escape');
    await page.getByTestId('strip-band').click({ position: { x: 700, y: 30 } });
    expect(await selection.boundingBox()).toEqual(before);

    await openStone(page, 'Gather');
    await expect(page.getByText('turned upright by 90°')).toBeVisible();
    const { pictures, width, height } = await readWithSharp(await saveFile(page));
    expect([width, height]).toEqual([64, 64]);
    for (const picture of pictures) {
      for (const [x, y] of [
        [4, 4],
        [60, 60],
      ]) {
        const [r, g, b] = colourAt(picture, 64, x, y);
        expect(r > 200 && g < 60 && b < 60, `${r},${g},${b}`).toBe(true);
      }
    }
  } finally {
    clips.remove();
  }
});

test('an old GIF, trimmed by every second frame, keeps its length', async ({ page, url }) => {
  await page.goto(url);
  await dropFiles(page, [{ name: 'old loop.gif', bytes: readFileSync(join(DEMO, 'old loop.gif')) }]);
  await expect(page).toHaveURL(/\/cut$/);
  // Unchanged, nothing of its timing is lost.
  const before = await readWithSharp(readFileSync(join(DEMO, 'old loop.gif')));
  const unchanged = await readWithSharp(await saveFile(page));
  expect([unchanged.delaysCs, unchanged.plays]).toEqual([before.delaysCs, before.plays]);

  await openStone(page, 'Gather');
  await expect(page.getByText('its own delays are kept')).toBeVisible();
  await page.getByText('2nd', { exact: true }).click();
  await expect(page.getByText('every 2nd, each shown until the next')).toBeVisible();
  await openStone(page, 'Weigh');
  await expect(page.getByText('the real file, playing')).toBeVisible();
  const thinned = await readWithSharp(await saveFile(page));
  const pairs = before.delaysCs.flatMap((delay, i) => (i % 2 === 0 ? [delay + before.delaysCs[i + 1]] : []));
  expect(thinned.delaysCs).toEqual(pairs);
});

test('the strip comes closer, marks catch the handle, a better version takes the file’s place', async ({
  page,
  url,
}) => {
  await page.goto(url);
  await page.getByRole('link', { name: 'Open Lantern over the landing' }).click();
  await openStone(page, 'Cut');
  const band = page.getByTestId('strip-band');
  await expect(page.getByText('1 s = 155 px')).toBeVisible();
  const box = await band.boundingBox();
  if (!box) throw new Error('no strip');
  // The wheel comes closer around the pointer; the map shows where one is.
  await page.mouse.move(box.x + box.width * 0.25, box.y + 20);
  for (let i = 0; i < 5; i++) await page.mouse.wheel(0, -180);
  await expect(page.getByTestId('strip-map')).toBeVisible();
  await page.keyboard.press('Home');
  await expect(page.getByText('1 s = 155 px')).toBeVisible();

  // Dragged near a length of whole half seconds, the end stops there; with Shift it passes.
  const end = page.getByRole('slider', { name: 'End of the span' });
  const handle = await end.boundingBox();
  if (!handle) throw new Error('no handle');
  const middle = [handle.x + handle.width / 2, handle.y + handle.height / 2] as const;
  await page.mouse.move(...middle);
  await page.mouse.down();
  await page.mouse.move(middle[0] + 127, middle[1], { steps: 6 });
  await expect(page.getByText('3 s long')).toBeVisible();
  await expect(page.getByRole('img', { name: /The first frame/ })).toBeVisible();
  await page.keyboard.down('Shift');
  await page.mouse.move(middle[0] + 128, middle[1]);
  await expect(page.getByText('3 s long')).toHaveCount(0);
  await page.keyboard.up('Shift');
  await page.mouse.move(middle[0] + 127, middle[1]);
  await page.mouse.up();
  await expect(page.getByLabel('Length, seconds')).toHaveValue('3.00 s');

  // The calmest stretch of that length, and the ribbons' figures.
  await expect(page.getByTestId('ribbons')).toHaveAttribute('data-known', '240');
  await page.getByRole('button', { name: 'Take the calmest 3.00 s' }).click();
  await expect(page.getByLabel('Length, seconds')).toHaveValue('3.00 s');
  await page.getByTestId('ribbons').hover();
  await expect(page.getByText(/levels a frame\)/)).toBeVisible();
  await enter(page.getByLabel('Start, seconds'), 1);
  await enter(page.getByLabel('Length, seconds'), 2);

  // A larger version of the same take: the seconds and the crop's part of the picture stay.
  await page.getByText('1:1', { exact: true }).click();
  await expect(page.getByLabel('Crop width')).toHaveValue('720');
  const clips = clipFolder();
  try {
    const better = clips.make(
      'lantern, half.mp4',
      ...[
        '-i',
        join(DEMO, 'lantern.mp4'),
        '-vf',
        'scale=640:360,fps=15',
        '-c:v',
        'libx264',
        '-preset',
        'ultrafast',
      ],
    );
    await openStone(page, 'Gather');
    await page.locator('aside input[type=file]').setInputFiles(better);
    await expect(page.getByText('640 × 360 px')).toBeVisible();
    await openStone(page, 'Cut');
    await expect(page.getByLabel('Crop width')).toHaveValue('360');
    await expect(page.getByLabel('Start, frame')).toHaveValue('15');
    await expect(page.getByLabel('End, seconds')).toHaveValue('3.00 s');
    await page.keyboard.press('Control+z');
    await expect(page.getByLabel('Crop width')).toHaveValue('720');
  } finally {
    clips.remove();
  }
});

test('footage is a library: several pictures chosen make one piece; a file can be taken out and put back', async ({
  page,
  url,
}) => {
  await page.goto(`${url}/footage`);
  await page.getByLabel('Choose autumn menu 3.png').check();
  await page.getByLabel('Choose autumn menu 1.png').check();
  await page.getByRole('button', { name: 'One piece from them' }).click();
  await expect(page).toHaveURL(/\/gather$/);
  await expect(page.getByText('2 frames · 4.00 s')).toBeVisible();
  await page.getByRole('link', { name: /back to the shelf/ }).click();
  await page.getByRole('link', { name: 'Footage' }).click();
  const badge = page.getByRole('article').filter({ hasText: 'badge.png' });
  await expect(badge).toContainText('in 1 piece');
  await badge.getByRole('button', { name: 'More for badge.png' }).click();
  await page.getByRole('menuitem', { name: 'Take out of the library' }).click();
  await expect(badge).toHaveCount(0);
  await page.getByRole('button', { name: 'Put it back' }).click();
  await expect(badge).toHaveCount(1);

  // Pasted: a picture from the clipboard becomes a piece of its own.
  const png = (
    await sharp({ create: { width: 30, height: 20, channels: 3, background: '#123456' } })
      .png()
      .toBuffer()
  ).toString('base64');
  await page.evaluate((base64) => {
    const data = new DataTransfer();
    data.items.add(new File([Uint8Array.from(atob(base64), (c) => c.charCodeAt(0))], 'pasted.png'));
    window.dispatchEvent(new ClipboardEvent('paste', { clipboardData: data }));
  }, png);
  await expect(page).toHaveURL(/\/gather$/);
  await expect(page.getByText('1 frame · 2.00 s')).toBeVisible();
});
