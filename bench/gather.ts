import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { chromium, type Page } from '@playwright/test';
import sharp from 'sharp';
import { seeded, wholeFrom } from '../packages/core/src/testing/seeded.js';
import { clipFolder, NUMBERED_WIDTH, numberedFrames, readNumber } from '../packages/server/test/clips.js';
import { LAUNCH } from '../tools/browser.js';
import { startServer } from '../tools/server-process.js';
import { percentile, timeProcess } from './measure.js';
import { type BenchRow, printTable } from './table.js';

const FIRST_PICTURES_MS = 3000;
const ANY_FRAME_MS = 500;
const USABLE_MS = 6000;
const PLACES = 200;
const FRAMES = 1000;
const SEEKS = 40;

/** Long, large and awkward footage: how soon it can be worked with, and whether frame n is frame n. */
export async function benchGather(root: string, work: string): Promise<void> {
  const lantern = join(root, 'demo/footage/lantern.mp4');
  const long = join(work, 'twenty minutes.mp4');
  const large = join(work, 'four k.mp4');
  const x264 = ['-c:v', 'libx264', '-preset', 'ultrafast', '-crf', '26', '-pix_fmt', 'yuv420p'];
  const looped = ['-v', 'error', '-y', '-stream_loop', '-1', '-i', lantern];
  await timeProcess('ffmpeg', [...looped, '-t', '1200', '-vf', 'scale=640:360', ...x264, long]);
  await timeProcess('ffmpeg', [...looped, '-t', '10', '-vf', 'scale=3840:2160,fps=60', ...x264, large]);

  const rows: BenchRow[] = await exactness();
  await inBrowser(async (page) => {
    const strip = await openTime(page, long, false);
    const seeks = await seekTimes(page);
    rows.push(
      row(
        '20 min of 640 × 360: from the end of the upload to the first strip pictures',
        strip,
        FIRST_PICTURES_MS,
      ),
      row('20 min of 640 × 360: any frame on the stage, p95', percentile(seeks, 0.95), ANY_FRAME_MS),
    );
  });
  await inBrowser(async (page) => {
    const usable = await openTime(page, large, true);
    rows.push(
      row('10 s of 3840 × 2160, 60 fps: strip, picture and another frame on the stage', usable, USABLE_MS),
    );
  });
  printTable('gather', rows);
}

/** One page on a server of its own, so that no row waits for what an earlier one left running. */
async function inBrowser(measure: (page: Page) => Promise<void>): Promise<void> {
  const browser = await chromium.launch(LAUNCH);
  const server = await startServer({ demo: false });
  try {
    const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
    await page.addInitScript(noteUploadEnd);
    await page.goto(server.url);
    await measure(page);
  } finally {
    await browser.close();
    await server.stop();
  }
}

function row(what: string, ms: number, limit: number): BenchRow {
  return { what, figure: `${Math.round(ms)} ms`, wanted: `≤ ${limit} ms`, reached: ms <= limit };
}

/** Frames that carry their number, sought at random places through the server. */
async function exactness(): Promise<BenchRow[]> {
  const clips = clipFolder();
  const server = await startServer({ demo: false });
  const constant = numberedFrames(FRAMES, 25);
  const uneven = "settb=1/12800,setpts='(N+2*sin(N/5)*sin(N/5))/25/TB+floor(N/40)*0.3/TB'";
  const varying = constant.map((word) => (word.startsWith('format=') ? `${word},${uneven}` : word));
  const x264 = ['-c:v', 'libx264', '-preset', 'fast', '-bf', '3', '-g', '250', '-crf', '14'];
  const vp9 = ['-c:v', 'libvpx-vp9', '-b:v', '0', '-crf', '16', '-cpu-used', '8', '-g', '128'];
  const kinds: [what: string, file: string, args: string[]][] = [
    ['H.264 with B-frames, constant rate', 'c.mp4', [...constant, ...x264]],
    [
      'H.264 with B-frames, variable rate',
      'v.mp4',
      [...varying, '-fps_mode', 'vfr', '-enc_time_base', '1/12800', ...x264],
    ],
    ['VP9, constant rate', 'c.webm', [...constant, ...vp9]],
    ['VP9, variable rate', 'v.webm', [...varying, '-fps_mode', 'vfr', '-enc_time_base', '1/1000', ...vp9]],
  ];
  try {
    const rows: BenchRow[] = [];
    for (const [what, file, args] of kinds) {
      const response = await fetch(`${server.url}/api/footage?name=${file}`, {
        method: 'POST',
        body: readFileSync(clips.make(file, ...args)),
      });
      const { id } = (await response.json()) as { id: string };
      const random = seeded(200);
      let misses = 0;
      for (let i = 0; i < PLACES; i++) {
        const frame = wholeFrom(random, 0, FRAMES - 1);
        const picture = await fetch(`${server.url}/api/footage/${id}/frames/${frame}`);
        const { data, info } = await sharp(await picture.arrayBuffer())
          .raw()
          .toBuffer({ resolveWithObject: true });
        if (readNumber(data, info.channels, NUMBERED_WIDTH) !== frame) misses++;
      }
      rows.push({
        what: `${what}: misses at ${PLACES} random places`,
        figure: String(misses),
        wanted: '0',
        reached: misses === 0,
      });
    }
    return rows;
  } finally {
    clips.remove();
    await server.stop();
  }
}

declare global {
  interface Window {
    /** When the last byte of a file was sent, ms of the page's clock. */
    uploadEndedAt?: number;
  }
}

/** Runs in the page before its own code. */
function noteUploadEnd(): void {
  const send = XMLHttpRequest.prototype.send;
  XMLHttpRequest.prototype.send = function (body) {
    this.upload.addEventListener('load', () => {
      window.uploadEndedAt = performance.now();
    });
    send.call(this, body);
  };
}

/**
 * From the end of the upload until the strip shows pictures; with `usable`, from choosing the file until
 * there is also the stage, and a frame that is sought.
 */
async function openTime(page: Page, file: string, usable: boolean): Promise<number> {
  const began = Date.now();
  await page.locator('input[type=file]').first().setInputFiles(file);
  await page.waitForFunction(() => {
    const pictures = [...document.querySelectorAll<HTMLImageElement>('[data-testid=strip-band] img')];
    return pictures.some((picture) => picture.complete && picture.naturalWidth > 0);
  });
  if (!usable) return page.evaluate(() => performance.now() - (window.uploadEndedAt ?? 0));
  await page.waitForFunction(
    () => document.querySelector<HTMLCanvasElement>('[data-testid=stage] canvas')?.dataset.frame,
  );
  await seekTo(page, 0.62);
  return Date.now() - began;
}

async function seekTimes(page: Page): Promise<number[]> {
  const times: number[] = [];
  for (let k = 0; k < SEEKS; k++) times.push(await seekTo(page, ((k * 89 + 17) % 200) / 200));
  return times;
}

/** Scrubs to a place of the strip. @returns milliseconds until that very frame is drawn. */
function seekTo(page: Page, share: number): Promise<number> {
  return page.evaluate(async (place) => {
    const band = document.querySelector('[data-testid=strip-band]') as HTMLElement;
    const box = band.getBoundingClientRect();
    const began = performance.now();
    band.dispatchEvent(
      new PointerEvent('pointermove', {
        bubbles: true,
        buttons: 1,
        clientX: box.left + place * box.width,
        clientY: box.top + 10,
        pointerId: 1,
      }),
    );
    for (;;) {
      await new Promise((drawn) => requestAnimationFrame(drawn));
      const wanted = /frame (\d+)/.exec(
        document.querySelector('[data-testid=frame-place]')?.textContent ?? '',
      )?.[1];
      const shown = document.querySelector<HTMLCanvasElement>('[data-testid=stage] canvas')?.dataset.frame;
      if (wanted !== undefined && wanted === shown) return performance.now() - began;
    }
  }, share);
}
