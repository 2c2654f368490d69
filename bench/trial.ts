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

/** From the key that changes a setting, ms: the file asked for, painted on the stage, and its figures known. */
interface Measured {
  readonly asked: number;
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

/** Width and Settle are changed by keys, as a person does; every time is from the key that asks for a file. */
async function benchInBrowser(): Promise<void> {
  const server = await startServer({ demo: true });
  const browser = await chromium.launch(LAUNCH);
  try {
    const piece = await settledPiece(getFrom(server.url));
    const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
    await watchTrials(page);
    const { weigh, ...recipe } = tried(piece);
    // Another width: the frames of the one that is measured are not decoded by anybody.
    await fetch(`${server.url}/api/pieces/${piece.id}`, {
      method: 'PUT',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({
        ...{ revision: piece.revision, name: piece.name },
        recipe: { ...recipe, weigh: { ...weigh, width: 320 } },
      }),
    });
    await page.goto(`${server.url}/pieces/${piece.id}/weigh`);
    await page.getByText('the real file, playing').waitFor();
    await page.waitForTimeout(REST_MS);
    const width = page.getByLabel('Width, px');
    await width.fill(String(weigh.width));
    const first = await measured(page, () => width.press('Enter'));
    const slider = page.getByRole('slider', { name: 'Settle' });
    const warm: Measured[] = [];
    for (let turn = 0; turn < WARM_UP + TURNS; turn++) {
      await page.waitForTimeout(REST_MS);
      const one = await measured(page, () => slider.press('ArrowRight'));
      if (turn >= WARM_UP) warm.push(one);
    }
    const painted = median(warm.map((one) => one.painted));
    printTable(
      'a trial of the lantern, 480 px, 12 fps, in the browser, from the key that changes a setting',
      [
        {
          what: 'the first of its size, to its picture on the stage',
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
          what: 'of this, until the file is asked for: the rest of the hand',
          figure: `${median(warm.map((one) => one.asked)).toFixed(0)} ms`,
          wanted: '',
          reached: null,
        },
        {
          what: 'and to its figures',
          figure: `${median(warm.map((one) => one.done)).toFixed(0)} ms`,
          wanted: '',
          reached: null,
        },
      ],
    );
  } finally {
    await browser.close();
    await server.stop();
  }
}

/** What the page notes, by the page's own clock. */
interface Watched {
  /** When a key was pressed that has not led to a trial yet. */
  pressed: number;
  asked: number;
  /** The trial that was asked for; empty until the server has named it. */
  letter: string;
  /** When each trial was first painted, and when its figures were told. */
  readonly painted: Record<string, number>;
  readonly done: Record<string, number>;
}

/** Notes in the page when a key is pressed, which trial is asked for then, and when that very one is painted. */
async function watchTrials(page: Page): Promise<void> {
  await page.addInitScript(() => {
    const watched: Watched = { pressed: 0, asked: 0, letter: '', painted: {}, done: {} };
    Object.assign(window, { watched });
    window.addEventListener('keydown', () => Object.assign(watched, { pressed: performance.now() }), true);
    const usual = window.fetch;
    window.fetch = async (input, init) => {
      const url = typeof input === 'string' ? input : input instanceof URL ? input.href : input.url;
      const isTrial = init?.method === 'POST' && url.endsWith('/trials');
      if (isTrial) Object.assign(watched, { asked: performance.now(), letter: '' });
      const response = await usual(input, init);
      if (isTrial) watched.letter = ((await response.clone().json()) as { letter: string }).letter;
      return response;
    };
    const Source = window.EventSource;
    window.EventSource = class extends Source {
      constructor(url: string | URL, options?: EventSourceInit) {
        super(url, options);
        this.addEventListener('message', ({ data }) => {
          const event = JSON.parse(data);
          if (event.type === 'trial' && event.trial.state === 'done') {
            watched.done[event.trial.letter] ??= performance.now();
          }
        });
      }
    };
    document.addEventListener(
      'load',
      ({ target }) => {
        if (!(target instanceof HTMLImageElement) || !target.dataset.trial) return;
        const letter = target.dataset.trial;
        void target.decode().then(() =>
          // The frame after the next is on the screen.
          requestAnimationFrame(() =>
            requestAnimationFrame(() => {
              watched.painted[letter] ??= performance.now();
            }),
          ),
        );
      },
      true,
    );
  });
}

/** Presses a key and waits for the trial that it asks for, to its figures. */
async function measured(page: Page, press: () => Promise<void>): Promise<Measured> {
  await page.evaluate(() => {
    Object.assign((window as unknown as { watched: Watched }).watched, { asked: 0, letter: '' });
  });
  await press();
  const handle = await page.waitForFunction(
    () => {
      const { pressed, asked, letter, painted, done } = (window as unknown as { watched: Watched }).watched;
      if (letter === '' || !painted[letter] || !done[letter]) return null;
      // One that was there before the key was pressed is none that the key has asked for.
      if (painted[letter] < pressed) throw new Error(`Trial ${letter} was painted before it was asked for.`);
      return { asked: asked - pressed, painted: painted[letter] - pressed, done: done[letter] - pressed };
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
