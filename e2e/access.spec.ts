import { AxeBuilder } from '@axe-core/playwright';
import type { Locator, Page } from '@playwright/test';
import { expect, test } from './application.js';
import { openPiece, openStone } from './hands.js';

const STONES = ['Gather', 'Cut', 'Loop', 'Still', 'Dress', 'Weigh', 'Send'];

/** What a reader that knows the guidelines (WCAG 2, levels A and AA) finds wrong, in words. */
async function faults(page: Page): Promise<string[]> {
  const { violations } = await new AxeBuilder({ page }).withTags(['wcag2a', 'wcag2aa']).analyze();
  return violations.flatMap(({ id, nodes }) =>
    nodes.map(
      ({ target, failureSummary, html }) =>
        `${id}: ${target.join(' ')}: ${failureSummary}: ${html.slice(0, 300)}`,
    ),
  );
}

async function boxesOf(things: Locator) {
  const all = await things.all();
  const boxes = await Promise.all(all.map((one) => one.boundingBox()));
  return boxes.filter((box) => box !== null && box.width > 0);
}

/** Whether any two things lie over each other, or one leaves the window. */
async function expectApart(page: Page, things: Locator, what: string): Promise<void> {
  const size = page.viewportSize() ?? { width: 0, height: 0 };
  const boxes = await boxesOf(things);
  expect(boxes.length, what).toBeGreaterThan(0);
  for (const [i, box] of boxes.entries()) {
    if (!box) continue;
    expect(box.x >= -1 && box.x + box.width <= size.width + 1, `${what} ${i} lies in the window`).toBe(true);
    for (const other of boxes.slice(i + 1)) {
      if (!other) continue;
      const across = Math.min(box.x + box.width, other.x + other.width) - Math.max(box.x, other.x);
      const down = Math.min(box.y + box.height, other.y + other.height) - Math.max(box.y, other.y);
      expect(Math.min(across, down), `${what}: ${i} and another`).toBeLessThanOrEqual(1);
    }
  }
}

test('every view can be read: contrast, names and roles as the guidelines ask', async ({ page, url }) => {
  await page.goto(url);
  await expect(page.getByRole('link', { name: 'Open Lantern over the landing' })).toBeVisible();
  await expect.soft(faults(page)).resolves.toEqual([]);
  await openPiece(page, 'Lantern over the landing');
  for (const stone of STONES) {
    await openStone(page, stone);
    await expect(page.getByTestId('stage').locator('canvas, img, iframe').first()).toBeVisible();
    await expect.soft(faults(page), stone).resolves.toEqual([]);
  }
  for (const beside of ['limits', 'practice-host']) {
    await page.goto(`${url}/${beside}`);
    await expect(page.getByRole('heading', { level: 1 })).toBeVisible();
    await expect.soft(faults(page), beside).resolves.toEqual([]);
  }
});

for (const [width, height] of [
  [1024, 640],
  [1280, 800],
] as const) {
  test(`the workspace is whole at ${width} × ${height}: nothing lies over anything else`, async ({
    page,
    url,
  }) => {
    await page.setViewportSize({ width, height });
    await page.goto(url);
    await openPiece(page, 'Lantern over the landing');
    for (const stone of STONES) {
      await openStone(page, stone);
      const stage = page.getByTestId('stage');
      const picture = stage.locator('canvas, img, iframe').first();
      await expect(picture).toBeVisible();
      await expectApart(page, page.locator('header > *'), `${stone}: top bar`);
      await expectApart(page, page.getByRole('navigation', { name: 'Course' }).getByRole('link'), 'stones');
      await expectApart(page, stage.locator('> *'), `${stone}: stage`);
      const box = await picture.boundingBox();
      expect(box?.height, `${stone}: the picture`).toBeGreaterThan(120);
    }
  });
}

test('a shelf as wide as a phone can be used', async ({ page, url }) => {
  await page.setViewportSize({ width: 375, height: 720 });
  await page.goto(url);
  const first = page.getByRole('link', { name: 'Open Lantern over the landing' });
  await expect(first).toBeVisible();
  const wide = await page.evaluate(() => document.documentElement.scrollWidth);
  expect(wide).toBeLessThanOrEqual(375);
  await expectApart(page, page.locator('header > *'), 'head');
  await page.getByRole('button', { name: 'More for Lantern over the landing' }).click();
  await expect(page.getByRole('menuitem', { name: 'Duplicate' })).toBeVisible();
});
