import type { PieceView, TrialView } from '../packages/core/src/api/index.js';
import { startServer } from '../tools/server-process.js';
import { median } from './measure.js';
import { printTable } from './table.js';

const WANTED_MS = 400;
/** The first trial, whose frames nobody has decoded in this size. */
const WANTED_COLD_MS = 2000;
/** Every thread of the pool has its own decoded frames; until then trials are not measured. */
const WARM_UP = 8;
const TURNS = 9;

/** A trial of 480 px, 12 fps, 3 s whose frames are decoded: from asking for it to having its bytes. */
export async function benchTrial(): Promise<void> {
  const server = await startServer({ demo: true });
  try {
    const get = async <T>(path: string): Promise<T> => (await fetch(`${server.url}/api/${path}`)).json() as T;
    const piece = await settledPiece(get);
    const { recipe } = piece;
    const make = async (turn: number): Promise<number> => {
      const gif = { ...recipe.weigh.gif, dither: 'none', settle: 3 + turn / 20 };
      const weigh = { ...recipe.weigh, width: 480, frameRate: 12, gif };
      const started = performance.now();
      const asked = await fetch(`${server.url}/api/pieces/${piece.id}/trials`, {
        method: 'POST',
        headers: { 'content-type': 'application/json' },
        body: JSON.stringify({ recipe: { ...recipe, weigh } }),
      });
      let trial = (await asked.json()) as TrialView;
      while (trial.state !== 'done') {
        if (trial.state === 'failed') throw new Error(trial.problem ?? 'The trial failed.');
        await new Promise((resolve) => setTimeout(resolve, 10));
        const all = await get<TrialView[]>(`pieces/${piece.id}/trials`);
        trial = all.find((one) => one.id === trial.id) as TrialView;
      }
      await (await fetch(`${server.url}/api/trials/${trial.id}/file`)).arrayBuffer();
      return performance.now() - started;
    };
    const times: number[] = [];
    let cold = 0;
    for (let turn = 0; turn < WARM_UP + TURNS; turn++) {
      const ms = await make(turn);
      if (turn === 0) cold = ms;
      if (turn >= WARM_UP) times.push(ms);
    }
    const ms = median(times);
    printTable('a trial of the lantern, 480 px, 12 fps, from asking to its bytes', [
      {
        what: 'the first',
        figure: `${cold.toFixed(0)} ms`,
        wanted: `≤ ${WANTED_COLD_MS} ms`,
        reached: cold <= WANTED_COLD_MS,
      },
      {
        what: 'with its frames decoded, median',
        figure: `${ms.toFixed(0)} ms (${Math.min(...times).toFixed(0)} to ${Math.max(...times).toFixed(0)})`,
        wanted: `≤ ${WANTED_MS} ms`,
        reached: ms <= WANTED_MS,
      },
    ]);
  } finally {
    await server.stop();
  }
}

/** The lantern of the demo, once the server has made all that it makes at its first start. */
async function settledPiece(get: <T>(path: string) => Promise<T>): Promise<PieceView> {
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
