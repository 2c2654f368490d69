import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import type { MotionView } from '@muted-pond/core/api';
import {
  alignSize,
  createAlignTemplate,
  IDENTITY,
  lumaOf,
  type Similarity,
  warpFrame,
} from '@muted-pond/core/motion';
import { createFrame } from '@muted-pond/core/pixels';
import { createEvenLight, createMask, type Mask, resizeMask, signedDistance } from '@muted-pond/core/still';
import { chromium, type Page } from '@playwright/test';
import { LAUNCH } from '../tools/browser.js';
import { startServer } from '../tools/server-process.js';
import { decodeAll, percentile } from './measure.js';
import { type BenchRow, printTable } from './table.js';

const SIZE = { width: 1280, height: 720 };
const SHAKE_PX = 0.15;
const STEADY_MS = 40;
const EDGE_LEVELS = 1;
const SAME_PARTS = 0.85;
const PROPOSAL_MS = 2000;
const FRAME_MS = 1000 / 60;
const RING_PX = 14;
/** Frames looked at, and the one that is held. */
const FRAMES = 150;
const PLATE = 60;

/**
 * Held still, and painted: against the demo's known camera, light and movement; and how soon the hand sees
 * its paint.
 */
export async function benchStill(root: string): Promise<void> {
  const rows: BenchRow[] = [
    ...steadyRows(root, 'lantern'),
    ...steadyRows(root, 'kettle').slice(0, 1),
    evenLightRow(root),
    ...(await inBrowser(root)),
  ];
  printTable('still', rows);
}

const FILES: Record<string, string> = {
  lantern: 'lantern.mp4',
  kettle: 'kettle.mov',
  sideways: 'sideways.mp4',
};
const footage = (root: string, name: string) => join(root, 'demo/footage', FILES[name]);

/** What truly moves, as one mask. */
function movesOf(root: string, name: string, size = SIZE): Mask {
  const path = join(root, `demo/footage/${name}.moves.png`);
  const own = name === 'sideways' ? { width: 540, height: 960 } : SIZE;
  const [picture] = decodeAll(path, own.width, own.height);
  const values = Uint8Array.from({ length: picture.length / 4 }, (_, p) => picture[p * 4]);
  return resizeMask(createMask(own.width, own.height, values), size);
}

interface Camera {
  readonly camera: { readonly path: readonly (readonly [x: number, y: number, roll: number])[] };
}

function steadyRows(root: string, name: string): BenchRow[] {
  const { camera } = JSON.parse(
    readFileSync(join(root, `demo/footage/${name}.truth.json`), 'utf8'),
  ) as Camera;
  const frames = decodeAll(footage(root, name), SIZE.width, SIZE.height).slice(0, FRAMES);
  const plate = createFrame(SIZE.width, SIZE.height, frames[PLATE]);
  const small = alignSize(SIZE);
  const moving = movesOf(root, name);
  const template = createAlignTemplate(lumaOf(plate.rgba, SIZE, small), resizeMask(moving, small).values);
  let start: Similarity = IDENTITY;
  let squared = 0;
  let points = 0;
  const began = performance.now();
  for (let frame = PLATE; frame < frames.length; frame++) {
    const picture = createFrame(SIZE.width, SIZE.height, frames[frame]);
    const { similarity } = template.register(lumaOf(picture.rgba, SIZE, small), start);
    start = similarity;
    warpFrame(picture, similarity, plate, moving.values);
    const [x, y, roll] = camera.path[frame].map((value, i) => value - camera.path[PLATE][i]);
    // The middle and four places near the corners, px of the source.
    for (const [u, v] of [
      [0, 0],
      [-0.4, -0.2],
      [0.4, -0.2],
      [0.4, 0.2],
      [-0.4, 0.2],
    ]) {
      const foundX = (similarity.stretch * u - similarity.turn * v + similarity.x) * SIZE.width;
      const foundY = (similarity.turn * u + similarity.stretch * v + similarity.y) * SIZE.width;
      squared += (foundX - x + roll * v * SIZE.width) ** 2 + (foundY - y - roll * u * SIZE.width) ** 2;
      points++;
    }
  }
  const ms = (performance.now() - began) / (frames.length - PLATE);
  const rms = Math.sqrt(squared / points);
  return [
    {
      what: `${name}: steadied, off the known camera path, RMS`,
      figure: `${rms.toFixed(3)} px`,
      wanted: `≤ ${SHAKE_PX} px`,
      reached: rms <= SHAKE_PX,
    },
    {
      what: 'aligning and warping a frame of 1280 × 720',
      figure: `${ms.toFixed(0)} ms`,
      wanted: `≤ ${STEADY_MS} ms`,
      reached: ms <= STEADY_MS,
    },
  ];
}

/**
 * The step in brightness along the edge of what moves, before and after: the worst frame's mean over the
 * ring.
 */
function evenLightRow(root: string): BenchRow {
  const frames = decodeAll(footage(root, 'kettle'), SIZE.width, SIZE.height).slice(0, FRAMES);
  const mask = movesOf(root, 'kettle');
  const plate = createFrame(SIZE.width, SIZE.height, frames[PLATE]);
  const even = createEvenLight(plate, mask);
  const distance = signedDistance({ ...mask, values: mask.values.map((value) => (value > 0 ? 255 : 0)) });
  const ring = [...distance.keys()].filter((p) => distance[p] > 0 && distance[p] <= RING_PX);
  const step = (rgba: Uint8Array) =>
    Math.max(
      ...[0, 1, 2].map((c) =>
        Math.abs(ring.reduce((sum, p) => sum + rgba[p * 4 + c] - plate.rgba[p * 4 + c], 0) / ring.length),
      ),
    );
  let [before, after] = [0, 0];
  for (let frame = 0; frame < frames.length; frame += 7) {
    const picture = createFrame(SIZE.width, SIZE.height, frames[frame]);
    before = Math.max(before, step(picture.rgba));
    after = Math.max(after, step(even.apply(picture).rgba));
  }
  return {
    what: `kettle: brightness step along the edge, worst frame (before: ${before.toFixed(2)})`,
    figure: `${after.toFixed(2)} levels`,
    wanted: `≤ ${EDGE_LEVELS}`,
    reached: after <= EDGE_LEVELS,
  };
}

async function inBrowser(root: string): Promise<BenchRow[]> {
  const server = await startServer({ demo: false });
  const browser = await chromium.launch(LAUNCH);
  try {
    const rows: BenchRow[] = [];
    for (const name of Object.keys(FILES)) rows.push(...(await proposalRows(root, server.url, name)));
    const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
    await page.goto(server.url);
    rows.push(...(await paintRows(page, footage(root, 'lantern'))));
    return rows;
  } finally {
    await browser.close();
    await server.stop();
  }
}

/** What moves in 90 frames, against what truly does. */
async function proposalRows(root: string, url: string, name: string): Promise<BenchRow[]> {
  const upload = await fetch(`${url}/api/footage?name=${FILES[name]}`, {
    method: 'POST',
    body: readFileSync(footage(root, name)),
  });
  const { id } = (await upload.json()) as { id: string };
  await untilQuiet(url, id);
  const began = performance.now();
  const map = (await (await fetch(`${url}/api/footage/${id}/motion?from=0&to=90`)).json()) as MotionView;
  const ms = performance.now() - began;
  const labels = Buffer.from(map.labels, 'base64');
  const truth = movesOf(root, name, { width: map.width, height: map.height });
  let [both, either] = [0, 0];
  for (let p = 0; p < labels.length; p++) {
    const isFound = labels[p] > 0;
    const isTrue = truth.values[p] > 127;
    if (isFound && isTrue) both++;
    if (isFound || isTrue) either++;
  }
  const share = both / either;
  return [
    {
      what: `${name}: proposal from motion and truth, shared part of both`,
      figure: share.toFixed(3),
      wanted: `≥ ${SAME_PARTS}`,
      reached: share >= SAME_PARTS,
    },
    {
      what: `${name}: proposal for 90 frames`,
      figure: `${Math.round(ms)} ms`,
      wanted: `≤ ${PROPOSAL_MS} ms`,
      reached: ms <= PROPOSAL_MS,
    },
  ];
}

/** Strip, frames and activity are made ahead when footage arrives; they are not what is measured. */
async function untilQuiet(url: string, id: string): Promise<void> {
  for (;;) {
    const view = (await (await fetch(`${url}/api/footage/${id}`)).json()) as {
      ready: boolean;
      frameCount: number;
    };
    const activity = await (await fetch(`${url}/api/footage/${id}/activity`)).arrayBuffer();
    if (view.ready && activity.byteLength === view.frameCount * 16) return;
    await new Promise((later) => setTimeout(later, 200));
  }
}

/** A stroke over the playing picture, and playing what was painted. */
async function paintRows(page: Page, file: string): Promise<BenchRow[]> {
  await page.locator('input[type=file]').first().setInputFiles(file);
  await page.getByRole('link', { name: 'Still' }).click();
  const ground = page.getByTestId('paint');
  await ground.waitFor();
  await page.waitForFunction(
    () => document.querySelector<HTMLCanvasElement>('[data-testid=stage] canvas')?.dataset.frame,
  );
  const box = await ground.boundingBox();
  if (!box) throw new Error('There is nothing to paint on.');
  await page.mouse.move(box.x + 200, box.y + 120);
  await page.mouse.down();
  await page.locator('[data-testid=paint][data-painting]').waitFor();
  const stroke = await page.evaluate(strokeTimes);
  await page.mouse.up();
  await page.locator('[data-testid=paint]:not([data-painting])').waitFor();
  const missed = await page.evaluate(framesMissed);
  const p95 = percentile(stroke, 0.95);
  return [
    {
      what: 'brush at 1280 × 720: from the pointer to the drawn picture, p95',
      figure: `${p95.toFixed(1)} ms`,
      wanted: `≤ ${FRAME_MS.toFixed(1)} ms`,
      reached: p95 <= FRAME_MS,
    },
    {
      what: 'composited playback: frames of the reel that were not shown, in 4 s',
      figure: String(missed),
      wanted: '0',
      reached: missed === 0,
    },
  ];
}

/** Runs in the page: one pointer move a frame, and how long until everything it caused was drawn. */
async function strokeTimes(): Promise<number[]> {
  const ground = document.querySelector('[data-testid=paint]') as HTMLElement;
  const box = ground.getBoundingClientRect();
  const times: number[] = [];
  for (let k = 0; k < 90; k++) {
    await new Promise((drawn) => requestAnimationFrame(drawn));
    const began = performance.now();
    ground.dispatchEvent(
      new PointerEvent('pointermove', {
        bubbles: true,
        buttons: 1,
        pointerId: 1,
        clientX: box.left + 200 + k * 4,
        clientY: box.top + 120 + 60 * Math.sin(k / 9),
      }),
    );
    // React draws in a task of its own; a message comes after it.
    await new Promise<void>((done) => {
      const { port1, port2 } = new MessageChannel();
      port1.onmessage = () => done();
      port2.postMessage(null);
    });
    times.push(performance.now() - began);
  }
  return times;
}

/** Runs in the page: how many frames of the reel were passed over while it played for four seconds. */
async function framesMissed(): Promise<number> {
  const canvas = document.querySelector('[data-testid=stage] canvas') as HTMLCanvasElement;
  const seen: number[] = [];
  const watch = new MutationObserver(() => seen.push(Number(canvas.dataset.frame)));
  watch.observe(canvas, { attributes: true, attributeFilter: ['data-frame'] });
  const ends = performance.now() + 4000;
  while (performance.now() < ends) await new Promise((drawn) => requestAnimationFrame(drawn));
  watch.disconnect();
  const order = [...new Set(seen)].sort((a, b) => a - b);
  let missed = 0;
  for (let i = 1; i < seen.length; i++) {
    const step = order.indexOf(seen[i]) - order.indexOf(seen[i - 1]);
    if (step !== 0) missed += (step - 1 + order.length) % order.length;
  }
  return missed;
}
