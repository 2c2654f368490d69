import { createInterface } from 'node:readline';
import { Readable } from 'node:stream';
import type { ReadableStream } from 'node:stream/web';
import { chromium, type Page } from '@playwright/test';
import type { PieceView, TrialView } from '../packages/core/src/api/index.js';
import { LAUNCH } from '../tools/browser.js';
import { startServer } from '../tools/server-process.js';
import { median } from './measure.js';
import { printTable } from './table.js';

const WANTED_MS = 400;
/** The first trial, whose frames nobody has decoded in this size. */
const WANTED_COLD_MS = 2000;
/** Every thread of the pool has its own decoded frames; until then trials are not measured. */
const WARM_UP = 6;
const TURNS = 9;
/** What follows a trial in the background is over by then. */
const REST_MS = 2500;

/** From asking for a trial, ms: its picture painted on the stage, and its figures known. */
interface Measured {
  readonly painted: number;
  readonly done: number;
}

/** A trial of 480 px, 12 fps, 3 s: through the server alone; and in Weigh, in Chromium. */
export async function benchTrial(): Promise<void> {
  const alone = await firstThroughServer();
  printTable('a trial of the lantern, 480 px, 12 fps, through the server alone', [
    {
      what: 'the first, from asking until its file can be had',
      figure: `${alone.toFixed(0)} ms`,
      wanted: `≤ ${WANTED_COLD_MS} ms`,
      reached: alone <= WANTED_COLD_MS,
    },
  ]);
  await benchInBrowser();
}

/** Asks a server that has not decoded the footage in this size for a trial. @returns ms until its file is told of. */
async function firstThroughServer(): Promise<number> {
  const server = await startServer({ demo: true });
  let told: Readable | null = null;
  try {
    const get = getFrom(server.url);
    const piece = await settledPiece(get);
    await new Promise((resolve) => setTimeout(resolve, REST_MS));
    const events = await fetch(`${server.url}/api/events`, { headers: { accept: 'text/event-stream' } });
    told = Readable.fromWeb(events.body as ReadableStream);
    const asked = performance.now();
    const response = await fetch(`${server.url}/api/pieces/${piece.id}/trials`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ recipe: tried(piece) }),
    });
    const { id } = (await response.json()) as TrialView;
    for await (const line of createInterface({ input: told })) {
      if (!line.startsWith('data:') || !line.includes(id)) continue;
      const { trial } = JSON.parse(line.slice('data:'.length)) as { trial?: TrialView };
      if (trial?.id === id && (trial.progress?.file || trial.state === 'done'))
        return performance.now() - asked;
    }
    throw new Error('The server said nothing of the file.');
  } finally {
    told?.destroy();
    await server.stop();
  }
}

/** The piece's recipe as it is tried here. */
function tried({ recipe }: PieceView): PieceView['recipe'] {
  const { weigh } = recipe;
  const gif = { ...weigh.gif, dither: 'none' as const, settle: 3 };
  return { ...recipe, weigh: { ...weigh, width: 480, frameRate: 12, gif } };
}

type Get = <T>(path: string) => Promise<T>;

function getFrom(url: string): Get {
  return async <T>(path: string) => (await fetch(`${url}/api/${path}`)).json() as T;
}

/** Settle is moved by a key, as a person does. */
async function benchInBrowser(): Promise<void> {
  const server = await startServer({ demo: true });
  const browser = await chromium.launch(LAUNCH);
  try {
    const piece = await settledPiece(getFrom(server.url));
    const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
    await watchTrials(page);
    const recipe = tried(piece);
    await fetch(`${server.url}/api/pieces/${piece.id}`, {
      method: 'PUT',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ revision: piece.revision, name: piece.name, recipe }),
    });
    await page.goto(`${server.url}/pieces/${piece.id}/weigh`);
    const first = await nextTrial(page);
    const slider = page.getByRole('slider', { name: 'Settle' });
    const warm: Measured[] = [];
    for (let turn = 0; turn < WARM_UP + TURNS; turn++) {
      await page.waitForTimeout(REST_MS);
      await slider.press('ArrowRight');
      const measured = await nextTrial(page);
      if (turn >= WARM_UP) warm.push(measured);
    }
    const painted = median(warm.map((one) => one.painted));
    const done = median(warm.map((one) => one.done));
    printTable('a trial of the lantern, 480 px, 12 fps, from asking in the browser', [
      {
        what: 'the first, to its picture on the stage',
        figure: `${first.painted.toFixed(0)} ms`,
        wanted: `≤ ${WANTED_COLD_MS} ms`,
        reached: first.painted <= WANTED_COLD_MS,
      },
      {
        what: 'with its frames decoded, to its picture, median',
        figure: `${painted.toFixed(0)} ms`,
        wanted: `≤ ${WANTED_MS} ms`,
        reached: painted <= WANTED_MS,
      },
      {
        what: 'and to its figures',
        figure: `${done.toFixed(0)} ms`,
        wanted: '',
        reached: null,
      },
    ]);
  } finally {
    await browser.close();
    await server.stop();
  }
}

interface Watched {
  asked: number;
  painted: number;
  done: number;
}

/** Notes in the page when a trial is asked for, when another file is painted, and when its figures are told. */
async function watchTrials(page: Page): Promise<void> {
  await page.addInitScript(() => {
    const watched: Watched = { asked: 0, painted: 0, done: 0 };
    Object.assign(window, { watched });
    const usual = window.fetch;
    window.fetch = (input, init) => {
      const url = typeof input === 'string' ? input : input instanceof URL ? input.href : input.url;
      if (init?.method === 'POST' && url.endsWith('/trials')) {
        Object.assign(watched, { asked: performance.now(), painted: 0, done: 0 });
      }
      return usual(input, init);
    };
    const Source = window.EventSource;
    window.EventSource = class extends Source {
      constructor(url: string | URL, options?: EventSourceInit) {
        super(url, options);
        this.addEventListener('message', ({ data }) => {
          const event = JSON.parse(data);
          if (event.type === 'trial' && event.trial.state === 'done' && watched.done === 0) {
            watched.done = performance.now();
          }
        });
      }
    };
    document.addEventListener(
      'load',
      ({ target }) => {
        if (!(target instanceof HTMLImageElement) || !target.dataset.trial) return;
        void target.decode().then(() =>
          // The frame after the next is on the screen.
          requestAnimationFrame(() =>
            requestAnimationFrame(() => {
              watched.painted ||= performance.now();
            }),
          ),
        );
      },
      true,
    );
  });
}

/** Waits for the end of the trial that is asked for next, and forgets it. */
async function nextTrial(page: Page): Promise<Measured> {
  const handle = await page.waitForFunction(
    () => {
      const { watched } = window as unknown as { watched: Watched };
      const { asked, painted, done } = watched;
      if (asked === 0 || painted === 0 || done === 0) return null;
      watched.asked = 0;
      return { painted: painted - asked, done: done - asked };
    },
    undefined,
    { polling: 20, timeout: 60_000 },
  );
  return (await handle.jsonValue()) as Measured;
}

/** The lantern of the demo, once the server has made all that it makes at its first start. */
async function settledPiece(get: Get): Promise<PieceView> {
  for (;;) {
    const pieces = await get<PieceView[]>('pieces');
    const trials = await get<TrialView[]>('trials/shown');
    const footage = await get<{ ready: boolean }[]>('footage');
    const lantern = pieces.find((piece) => piece.name.startsWith('Lantern'));
    const isReady = trials.length === pieces.length && footage.every((file) => file.ready);
    if (lantern && isReady && trials.every((trial) => trial.state === 'done')) return lantern;
    await new Promise((resolve) => setTimeout(resolve, 300));
  }
}
