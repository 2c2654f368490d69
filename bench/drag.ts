import { readdirSync, readFileSync } from 'node:fs';
import { chromium, type Page } from '@playwright/test';
import { LAUNCH } from '../tools/browser.js';
import { startServer } from '../tools/server-process.js';
import { printTable } from './table.js';

const WANTED_MEGABYTES = 200;
const MINUTES = 5;
/** What is fetched and compiled once is there by then. */
const WARM_UP_SECONDS = 20;

/** A slider dragged for five minutes, whose every move is another plan: what the tab holds more afterwards. */
export async function benchDrag(): Promise<void> {
  const server = await startServer({ demo: true });
  const browser = await chromium.launch(LAUNCH);
  try {
    const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
    await page.goto(server.url);
    await page.getByRole('link', { name: 'Open Lantern over the landing' }).click();
    await page.getByRole('link', { name: 'Dress' }).click();
    await page.waitForFunction(
      () => document.querySelector<HTMLCanvasElement>('[data-testid=stage] canvas')?.dataset.place,
    );
    await drag(page, WARM_UP_SECONDS);
    const before = tabMegabytes();
    const moves = await drag(page, MINUTES * 60);
    const more = tabMegabytes() - before;
    printTable('a slider dragged for a long time', [
      {
        what: `${MINUTES} minutes, ${moves} moves: memory of the tab, more than at their beginning (${before.toFixed(0)} MB)`,
        figure: `${more.toFixed(0)} MB`,
        wanted: `≤ ${WANTED_MEGABYTES} MB`,
        reached: more <= WANTED_MEGABYTES,
      },
    ]);
  } finally {
    await browser.close();
    await server.stop();
  }
}

/** Moves the thumb to and fro without letting go. @returns the moves. */
async function drag(page: Page, seconds: number): Promise<number> {
  const box = await page.getByRole('slider', { name: 'Exposure' }).boundingBox();
  if (!box) throw new Error('The slider is not on the screen.');
  const [x, y] = [box.x + box.width / 2, box.y + box.height / 2];
  await page.mouse.move(x, y);
  await page.mouse.down();
  const until = performance.now() + seconds * 1000;
  let moves = 0;
  for (; performance.now() < until; moves++) await page.mouse.move(x + 30 * Math.sin(moves / 7), y);
  await page.mouse.up();
  return moves;
}

/** Resident memory of all renderers and of what draws for them (Linux, proc(5)). */
function tabMegabytes(): number {
  let kilobytes = 0;
  for (const pid of readdirSync('/proc').filter((name) => /^\d+$/.test(name))) {
    try {
      const line = readFileSync(`/proc/${pid}/cmdline`, 'latin1');
      if (!/--type=(renderer|gpu-process)/.test(line)) continue;
      kilobytes += Number(/VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${pid}/status`, 'latin1'))?.[1] ?? 0);
    } catch {
      // It has ended.
    }
  }
  return kilobytes / 1024;
}
