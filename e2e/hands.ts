import { readFileSync } from 'node:fs';
import { expect, type Locator, type Page } from '@playwright/test';

/** A file as it lies in a folder. */
export interface HandFile {
  readonly name: string;
  readonly bytes: Buffer;
}

/** Drops files on the page as a person does: from outside, with their bytes. */
export async function dropFiles(page: Page, files: readonly HandFile[]): Promise<void> {
  const transfer = await page.evaluateHandle(
    (dropped) => {
      const data = new DataTransfer();
      for (const { name, base64 } of dropped) {
        data.items.add(new File([Uint8Array.from(atob(base64), (c) => c.charCodeAt(0))], name));
      }
      return data;
    },
    files.map(({ name, bytes }) => ({ name, base64: bytes.toString('base64') })),
  );
  // A file that comes in over the window brings up the place to let go.
  await page.locator('body').dispatchEvent('dragenter', { dataTransfer: transfer });
  const target = page.getByLabel('Drop files here');
  for (const type of ['dragenter', 'dragover', 'drop']) {
    await target.dispatchEvent(type, { dataTransfer: transfer });
  }
}

export const dropFile = (page: Page, name: string, bytes: Buffer) => dropFiles(page, [{ name, bytes }]);

/** Opens a piece from the shelf. Cards move while files are made for them: a click that missed its card is done again. */
export async function openPiece(page: Page, name: string): Promise<void> {
  const isOpen = /\/pieces\//;
  await expect(async () => {
    if (!isOpen.test(page.url())) await page.getByRole('link', { name: `Open ${name}` }).click();
    await expect(page).toHaveURL(isOpen, { timeout: 10_000 });
  }).toPass();
}

/** Goes to a stone of the course; the shelf may still be in front for a moment, with pieces of like names. */
export async function openStone(page: Page, name: string): Promise<void> {
  await page.getByRole('navigation', { name: 'Course' }).getByRole('link', { name }).click();
  await expect(page.getByRole('heading', { name, level: 1 })).toBeVisible();
}

/** The kind of file that Weigh makes. */
export async function chooseKind(page: Page, name: string): Promise<void> {
  await page.getByRole('combobox', { name: 'Kind of file' }).click();
  await page.getByRole('option', { name, exact: true }).click();
}

/** What saves the file of the present settings, in Send. */
export function saveLink(page: Page): Locator {
  return page.getByRole('complementary', { name: 'Send: settings' }).getByRole('link', { name: /^Save/ });
}

/** Saves the file in Send. @returns its bytes. */
export async function saveFile(page: Page): Promise<Buffer> {
  await openStone(page, 'Send');
  const [download] = await Promise.all([page.waitForEvent('download'), saveLink(page).click()]);
  return readFileSync(await download.path());
}

/** Drags from the middle of one thing by some pixels. */
export async function dragBy(page: Page, what: Locator, x: number, y: number): Promise<void> {
  const box = await boxOf(what);
  await page.mouse.move(box.x + box.width / 2, box.y + box.height / 2);
  await page.mouse.down();
  await page.mouse.move(box.x + box.width / 2 + x, box.y + box.height / 2 + y, { steps: 8 });
  await page.mouse.up();
}

/** Puts the pointer down on the strip where a frame lies, and up again. */
export async function scrubTo(page: Page, frame: number, frameCount: number): Promise<void> {
  const box = await boxOf(page.getByTestId('strip-band'));
  await page.mouse.move(box.x + 4, box.y + box.height / 2);
  await page.mouse.down();
  await page.mouse.move(box.x + ((frame + 0.5) / frameCount) * box.width, box.y + box.height / 2, {
    steps: 5,
  });
  await page.mouse.up();
}

/** Drags a span handle to the boundary before a frame. */
export async function dragHandle(
  page: Page,
  name: string,
  boundary: number,
  frameCount: number,
): Promise<void> {
  const handle = await boxOf(page.getByRole('slider', { name }));
  const band = await boxOf(page.getByTestId('strip-band'));
  await page.mouse.move(handle.x + handle.width / 2, handle.y + handle.height / 2);
  await page.mouse.down();
  await page.mouse.move(band.x + (boundary / frameCount) * band.width, handle.y + handle.height / 2, {
    steps: 6,
  });
  await page.mouse.up();
}

/** Types a number into a field and leaves it. */
export async function enter(field: Locator, value: number): Promise<void> {
  await field.fill(String(value));
  await field.press('Enter');
}

async function boxOf(locator: Locator) {
  const box = await locator.boundingBox();
  if (!box) throw new Error('It is not on the screen.');
  return box;
}

/** A piece of its own over demo footage, which no other journey changes, open at a stone. */
export async function openOwnPiece(
  page: Page,
  url: string,
  footage: string,
  name: string,
  stone: string,
): Promise<void> {
  await page.goto(url);
  await dropFile(page, name, readFileSync(new URL(`../demo/footage/${footage}`, import.meta.url)));
  await expect(page).toHaveURL(/\/cut$/);
  await openStone(page, stone);
}

/** The pixels of a canvas, four bytes each. */
export async function readPixels(canvas: Locator): Promise<{ width: number; height: number; rgba: Buffer }> {
  // As text: millions of numbers take the browser's protocol a quarter of a minute.
  const { base64, ...size } = await canvas.evaluate(async (element) => {
    const { width, height } = element as HTMLCanvasElement;
    const context = (element as HTMLCanvasElement).getContext('2d') as CanvasRenderingContext2D;
    const { data } = context.getImageData(0, 0, width, height);
    const url = await new Promise<string>((resolve, reject) => {
      const reader = new FileReader();
      reader.onload = () => resolve(reader.result as string);
      reader.onerror = () => reject(reader.error);
      reader.readAsDataURL(new Blob([data]));
    });
    return { width, height, base64: url.slice(url.indexOf(',') + 1) };
  });
  return { ...size, rgba: Buffer.from(base64, 'base64') };
}
