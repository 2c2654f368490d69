import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { gzipSync } from 'node:zlib';
import type { FootageView, PieceView, TrialView } from '../packages/core/src/api/index.js';
import { changeWeigh, type Recipe } from '../packages/core/src/recipe/index.js';
import { startServer } from '../tools/server-process.js';
import { type BenchRow, printTable } from './table.js';

const SCRIPT_BYTES = 250_000;
const COLD_MS = 2500;
const SHELF_S = 60;
const TRIALS = 50;
const MEMORY_BYTES = 1.2e9;

/**
 * What somebody meets first: the script of the shelf, the demo pieces, the first file of new footage; and
 * what is held after many.
 */
export async function benchFirst(root: string): Promise<void> {
  printTable('first', [firstScript(root), await demoShelf(), ...(await coldTrial(root))]);
}

/** All scripts that the page names, as they travel. */
function firstScript(root: string): BenchRow {
  const dist = join(root, 'packages/web/dist');
  const page = readFileSync(join(dist, 'index.html'), 'utf8');
  const names = new Set([...page.matchAll(/assets\/[^"]+\.js/g)].map(([name]) => name));
  const bytes = [...names].reduce((sum, name) => sum + gzipSync(readFileSync(join(dist, name))).length, 0);
  const all = readdirSync(join(dist, 'assets')).filter((name) => name.endsWith('.js')).length;
  return {
    what: `scripts of the first page, gzip (${names.size} of ${all})`,
    figure: `${Math.round(bytes / 1000)} KB`,
    wanted: `≤ ${SCRIPT_BYTES / 1000} KB`,
    reached: bytes <= SCRIPT_BYTES,
  };
}

/** From the start of the server to the last finished file of the demo shelf. */
async function demoShelf(): Promise<BenchRow> {
  const from = performance.now();
  const server = await startServer({ demo: true });
  try {
    const get = async <T>(path: string) => (await (await fetch(`${server.url}/api/${path}`)).json()) as T;
    const pieces = await get<PieceView[]>('pieces');
    for (;;) {
      const trials = await get<TrialView[]>('trials/shown');
      if (trials.length === pieces.length && trials.every(({ state }) => state === 'done')) break;
      await new Promise((resolve) => setTimeout(resolve, 200));
    }
    const seconds = (performance.now() - from) / 1000;
    return {
      what: `the demo shelf, ${pieces.length} files, from the start of the server`,
      figure: `${seconds.toFixed(1)} s`,
      wanted: `≤ ${SHELF_S} s`,
      reached: seconds <= SHELF_S,
    };
  } finally {
    await server.stop();
  }
}

async function coldTrial(root: string): Promise<BenchRow[]> {
  const server = await startServer({ demo: false });
  const api = `${server.url}/api`;
  const get = async <T>(path: string) => (await (await fetch(`${api}/${path}`)).json()) as T;
  const post = async <T>(path: string, body: string | Uint8Array<ArrayBuffer>, type: string) =>
    (await (
      await fetch(`${api}/${path}`, { method: 'POST', headers: { 'content-type': type }, body })
    ).json()) as T;
  try {
    const bytes = new Uint8Array(readFileSync(join(root, 'demo/footage/lantern.mp4')));
    const { id } = await post<FootageView>('footage?name=lantern.mp4', bytes, 'application/octet-stream');
    while (!(await get<FootageView>(`footage/${id}`)).ready)
      await new Promise((resolve) => setTimeout(resolve, 200));
    const piece = await post<PieceView>('pieces', JSON.stringify({ footage: id }), 'application/json');
    const make = async (recipe: Recipe): Promise<number> => {
      const from = performance.now();
      const asked = JSON.stringify({ recipe });
      const trial = await post<TrialView>(`pieces/${piece.id}/trials`, asked, 'application/json');
      for (;;) {
        const now = (await get<TrialView[]>(`pieces/${piece.id}/trials`)).find((one) => one.id === trial.id);
        if (now?.state === 'done') break;
        if (now?.state === 'failed') throw new Error(now.problem ?? 'The trial failed.');
        await new Promise((resolve) => setTimeout(resolve, 10));
      }
      await (await fetch(`${api}/trials/${trial.id}/file`)).arrayBuffer();
      return performance.now() - from;
    };
    const weigh = changeWeigh(piece.recipe.weigh, { width: 480, frameRate: 12 });
    const recipe = { ...piece.recipe, span: { start: 0, end: 90 }, weigh };
    const cold = await make(recipe);
    for (let turn = 1; turn < TRIALS; turn++) {
      const change = { width: 300 + 8 * (turn % 25), gif: { settle: 3 + turn / 20 } };
      await make({ ...recipe, weigh: changeWeigh(weigh, change) });
    }
    const held = memoryOf(server.pid);
    return [
      {
        what: 'a first trial, nothing made before: 480 px, 12 fps, 3 s',
        figure: `${cold.toFixed(0)} ms`,
        wanted: `≤ ${COLD_MS} ms`,
        reached: cold <= COLD_MS,
      },
      {
        what: `memory of the server after ${TRIALS} trials`,
        figure: `${(held / 1e9).toFixed(2)} GB`,
        wanted: `≤ ${MEMORY_BYTES / 1e9} GB`,
        reached: held <= MEMORY_BYTES,
      },
    ];
  } finally {
    await server.stop();
  }
}

/** Resident memory of a process, bytes. */
function memoryOf(pid: number): number {
  const [, kilobytes] = /VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${pid}/status`, 'utf8')) ?? [];
  return Number(kilobytes) * 1024;
}
