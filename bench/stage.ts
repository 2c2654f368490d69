import { join } from 'node:path';
import { chromium, type Page } from '@playwright/test';
import { LAUNCH } from '../tools/browser.js';
import { startServer } from '../tools/server-process.js';
import { percentile, timeProcess } from './measure.js';
import { type BenchRow, printTable } from './table.js';

const FIRST_PICTURES_MS = 3000;
const CACHED_MS = 50;
const UNCACHED_MS = 300;
const SEEKS = 60;

/**
 * What the hand waits for: the first strip pictures of a large file, and frames while scrubbing; in Chromium.
 */
export async function benchStage(root: string, work: string): Promise<void> {
  const large = join(work, 'large.mp4');
  await timeProcess('ffmpeg', [
    ...['-v', 'error', '-y', '-stream_loop', '-1', '-i', join(root, 'demo/footage/lantern.mp4'), '-t', '60'],
    ...['-vf', 'scale=1920:1080', '-c:v', 'libx264', '-preset', 'ultrafast', '-crf', '23', large],
  ]);
  const server = await startServer({ demo: true });
  const browser = await chromium.launch(LAUNCH);
  try {
    const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
    await page.goto(server.url);
    await demoIsReady(page);
    const rows: BenchRow[] = [await firstPictures(page, large)];

    await openLantern(page, server.url);
    // The server has its working frames; the browser has none but those around the start.
    const fresh = await seekTimes(page, spread(240, SEEKS));
    rows.push(row('scrub, frame new to the browser, p95', fresh, UNCACHED_MS));
    const again = await seekTimes(page, spread(240, SEEKS));
    rows.push(row('scrub, frame seen before, p95', again, CACHED_MS));

    rows.push({
      what: 'frames of the large file, new to the server too, p95',
      figure: `${Math.round(percentile(await coldTimes(page, server.url), 0.95))} ms`,
      wanted: '',
      reached: null,
    });
    printTable('the stage', rows);
  } finally {
    await browser.close();
    await server.stop();
  }
}

function row(what: string, times: readonly number[], limit: number): BenchRow {
  const p95 = percentile(times, 0.95);
  return { what, figure: `${p95.toFixed(0)} ms`, wanted: `≤ ${limit} ms`, reached: p95 <= limit };
}

/**
 * The server makes strips, frames and first trials of the demo when it starts for the first time; that is not
 * measured.
 */
async function demoIsReady(page: Page): Promise<void> {
  await page.evaluate(async () => {
    for (;;) {
      const pieces = (await (await fetch('/api/pieces')).json()) as unknown[];
      const trials = (await (await fetch('/api/trials/shown')).json()) as unknown[];
      const footage = (await (await fetch('/api/footage')).json()) as { ready: boolean }[];
      if (trials.length === pieces.length && footage.every((file) => file.ready)) return;
      await new Promise((resolve) => setTimeout(resolve, 300));
    }
  });
}

async function firstPictures(page: Page, file: string): Promise<BenchRow> {
  const began = Date.now();
  await page.locator('input[type=file]').first().setInputFiles(file);
  await page.waitForFunction(() => {
    const picture = document.querySelector<HTMLImageElement>('[data-testid=strip-band] img');
    return picture?.complete && picture.naturalWidth > 0;
  });
  const ms = Date.now() - began;
  return {
    what: '60 s of 1920 × 1080: from drop to the first strip pictures',
    figure: `${ms} ms`,
    wanted: `≤ ${FIRST_PICTURES_MS} ms`,
    reached: ms <= FIRST_PICTURES_MS,
  };
}

async function openLantern(page: Page, url: string): Promise<void> {
  await page.goto(url);
  await page.getByRole('link', { name: 'Open Lantern over the landing' }).click();
  await page.getByRole('link', { name: 'Cut' }).click();
  await page.waitForFunction(
    () => document.querySelector<HTMLCanvasElement>('[data-testid=stage] canvas')?.dataset.frame,
  );
  await page.keyboard.press('Space');
}

/** Scrubs to each frame with a pointer on the strip. @returns milliseconds until each is drawn. */
async function seekTimes(page: Page, frames: readonly number[]): Promise<number[]> {
  return page.evaluate(async (wanted) => {
    const band = document.querySelector('[data-testid=strip-band]') as HTMLElement;
    const canvas = document.querySelector('[data-testid=stage] canvas') as HTMLCanvasElement;
    const box = band.getBoundingClientRect();
    const times: number[] = [];
    for (const frame of wanted) {
      const clientX = box.left + ((frame + 0.5) / 240) * box.width;
      const began = performance.now();
      band.dispatchEvent(
        new PointerEvent('pointermove', {
          bubbles: true,
          buttons: 1,
          clientX,
          clientY: box.top + 10,
          pointerId: 1,
        }),
      );
      while (canvas.dataset.frame !== String(frame))
        await new Promise((drawn) => requestAnimationFrame(drawn));
      times.push(performance.now() - began);
    }
    return times;
  }, frames);
}

/** Frames of the newest footage, far apart, straight from the server. */
async function coldTimes(page: Page, url: string): Promise<number[]> {
  return page.evaluate(async (base) => {
    const all = (await (await fetch(`${base}/api/footage`)).json()) as {
      id: string;
      frameCount: number;
      name: string;
    }[];
    const large = all.find((file) => file.name === 'large.mp4');
    if (!large) throw new Error('The large file is not there.');
    const times: number[] = [];
    for (let k = 0; k < 20; k++) {
      const frame = (k * 997 + 61) % large.frameCount;
      const began = performance.now();
      const response = await fetch(`${base}/api/footage/${large.id}/frames/${frame}?k=${k}`);
      await response.blob();
      times.push(performance.now() - began);
    }
    return times;
  }, url);
}

/** Numbers below `total` in a fixed order that jumps about, none twice. */
function spread(total: number, count: number): number[] {
  return Array.from({ length: count }, (_, i) => (i * 89 + 17) % total);
}
