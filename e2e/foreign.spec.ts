import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { type Browser, chromium } from '@playwright/test';
import type { FootageView, PieceView, TrialView } from '../packages/core/src/api/index.js';
import { LAUNCH } from '../tools/browser.js';
import { expect, test } from './application.js';

/** A page elsewhere, open in the same browser: on another name, and on a name that was made to point here. */

const FOREIGN = 'somewhere.example';
const REBOUND = 'rebound.example';
let browser: Browser;
let elsewhere: Server;
let foreignPort: number;

test.beforeAll(async () => {
  elsewhere = createServer((_, response) =>
    response.setHeader('content-type', 'text/html').end('<p>Elsewhere.'),
  );
  await new Promise<void>((resolve) => elsewhere.listen(0, '127.0.0.1', resolve));
  foreignPort = (elsewhere.address() as AddressInfo).port;
  browser = await chromium.launch({
    ...LAUNCH,
    args: [
      ...(LAUNCH.args ?? []),
      `--host-resolver-rules=MAP ${FOREIGN} 127.0.0.1, MAP ${REBOUND} 127.0.0.1`,
    ],
  });
});
test.afterAll(async () => {
  await browser.close();
  elsewhere.close();
});

async function seen(url: string) {
  const get = async <T>(path: string) => (await (await fetch(`${url}/api/${path}`)).json()) as T;
  const [pieces, footage, trials] = [
    await get<PieceView[]>('pieces'),
    await get<FootageView[]>('footage'),
    await get<TrialView[]>('trials/shown'),
  ];
  return { pieces, footage, trials };
}

test('a foreign page plants nothing, changes nothing, reads nothing, and cannot even tell what is there', async ({
  url,
}) => {
  const before = await seen(url);
  const piece = before.pieces[0].id;
  const frame = `${url}/api/footage/${before.footage[0].id}/frames/0`;
  const page = await browser.newPage();
  await page.goto(`http://${FOREIGN}:${foreignPort}/`);

  // Sends without asking, as any page can.
  await page.evaluate(
    async ([api, id]) => {
      const blind = (path: string, type: string) =>
        fetch(`${api}/${path}`, {
          method: 'POST',
          mode: 'no-cors',
          body: new Blob(['GIF89a'], { type }),
        }).catch(() => {});
      await blind('footage?name=planted.gif', 'text/plain');
      await blind('layers?name=planted.png', 'text/plain');
      await blind(`pieces/${id}/duplicate`, 'application/x-www-form-urlencoded');
      await blind('uploads', 'text/plain');
      navigator.sendBeacon(`${api}/pieces/${id}/duplicate`);
    },
    [`${url}/api`, piece],
  );
  // Reads, as a page tries that hopes for leave.
  const read = await page.evaluate(
    (address) =>
      fetch(address).then(
        () => 'read',
        () => 'refused',
      ),
    `${url}/api/pieces`,
  );
  expect(read).toBe('refused');
  // A picture, a script, a frame: none of them loads, so that nothing tells what is there.
  const loads = await page.evaluate(async (address) => {
    const load = (tag: 'img' | 'script') =>
      new Promise<boolean>((resolve) => {
        const element = document.createElement(tag);
        element.onload = () => resolve(true);
        element.onerror = () => resolve(false);
        element.src = address;
        document.body.append(element);
      });
    return [await load('img'), await load('script')];
  }, frame);
  expect(loads).toEqual([false, false]);
  const framed = page.waitForResponse((response) => response.url() === `${url}/`);
  await page.evaluate((address) => {
    const frame = document.createElement('iframe');
    frame.src = `${address}/`;
    document.body.append(frame);
  }, url);
  expect((await framed).status()).toBe(403);
  // A plain form that is sent goes there and is refused.
  await page.evaluate((action) => {
    const form = document.createElement('form');
    form.method = 'post';
    form.action = action;
    document.body.append(form);
    form.submit();
  }, `${url}/api/pieces/${piece}/duplicate`);
  await page.waitForURL(/duplicate$/);
  await expect(page.locator('body')).toContainText('Another page asked for this');
  const after = await seen(url);
  expect(after.pieces.map(({ id, revision }) => [id, revision])).toEqual(
    before.pieces.map(({ id, revision }) => [id, revision]),
  );
  expect(after.footage.map(({ id }) => id)).toEqual(before.footage.map(({ id }) => id));
  await page.close();
});

test('a name that was made to point here is not answered', async ({ url }) => {
  const page = await browser.newPage();
  const { port } = new URL(url);
  const response = await page.goto(`http://${REBOUND}:${port}/`);
  expect(response?.status()).toBe(421);
  const read = await page.evaluate(async () => {
    const answer = await fetch('/api/pieces');
    return [answer.status, await answer.text()] as const;
  });
  expect(read[0]).toBe(421);
  expect(read[1]).not.toContain('recipe');
  await page.close();
});

test('the interface itself works under its own policy: no script, style or picture of it is blocked', async ({
  url,
}) => {
  const page = await browser.newPage();
  const blocked: string[] = [];
  page.on(
    'console',
    (message) => /Content Security Policy|Refused to/.test(message.text()) && blocked.push(message.text()),
  );
  await page.goto(url);
  await page.getByRole('link', { name: 'Open Lantern over the landing' }).click();
  for (const stone of ['Loop', 'Still', 'Weigh', 'Send']) {
    await page.getByRole('navigation', { name: 'Course' }).getByRole('link', { name: stone }).click();
    await expect(page.getByTestId('stage').locator('canvas, img, iframe').first()).toBeVisible();
  }
  await expect(page.getByText('Saved', { exact: true })).toBeVisible();
  expect(blocked).toEqual([]);
  await page.close();
});
