import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { BenchRow } from '../../bench/table.js';
import type { FootageView, PieceView, TrialView } from '../../packages/core/src/api/index.js';
import { changeWeigh, type Recipe } from '../../packages/core/src/recipe/index.js';
import { seeded, wholeFrom } from '../../packages/core/src/testing/seeded.js';
import { clipFolder } from '../../packages/server/test/clips.js';
import { processesWith, scratchOf } from '../../packages/server/test/processes.js';
import { type ServerProcess, startServer } from '../server-process.js';
import { ask } from './asking.js';

/** Kinds and settings whose making takes long enough to be met in its middle. */
const MAKINGS: readonly (readonly [name: string, kind: Recipe['weigh']['kind'], settings: object])[] = [
  ['GIF', 'gif', {}],
  ['WebP', 'webp', {}],
  ['APNG', 'apng', {}],
  ['AVIF', 'avif', { quality: 95 }],
  ['repeated MP4', 'mp4', { repeatTo: 600 }],
  ['MP4 in two passes', 'mp4', { bytes: 900_000_000, repeatTo: 600 }],
  ['repeated WebM', 'webm', { repeatTo: 600 }],
];
const LONGEST_WAIT_MS = 4000;
/** A cancel has ended everything by then. */
const ENDED_WITHIN_MS = 2000;
/** What is still there then stays, on a busy machine too. */
const GIVEN_UP_MS = 10_000;

/**
 * Cancels the making of each kind of file at any moment, and kills the server in its middle: no child process and
 * no scratch may be left.
 */
export async function holdCancels(rounds: number, seed: number): Promise<BenchRow[]> {
  const random = seeded(seed);
  const clips = clipFolder();
  const home = mkdtempSync(join(tmpdir(), 'muted-pond-cancels-'));
  const left: string[] = [];
  let slowest = 0;
  try {
    const clip = readFileSync(
      clips.make('c.mp4', '-f', 'lavfi', '-i', 'testsrc2=s=960x540:r=20:d=3', '-c:v', 'libx264'),
    );
    let server = await startServer({ demo: false, home });
    const piece = await pieceOver(server, clip);
    for (let round = 0; round < rounds; round++) {
      for (const making of MAKINGS) {
        const trial = await begin(server, piece, making, round);
        await wait(wholeFrom(random, 0, LONGEST_WAIT_MS));
        const from = performance.now();
        await ask(server.url, 'DELETE', `trials/${trial}`);
        await untilNothing(server.pid);
        slowest = Math.max(slowest, performance.now() - from);
        left.push(...leftOf(server.pid).map((one) => `${making[0]}, cancelled: ${one}`));

        await begin(server, piece, making, round + 0.5);
        await wait(wholeFrom(random, 0, LONGEST_WAIT_MS));
        const { pid } = server;
        await server.kill();
        await untilNothing(pid, true);
        left.push(...childrenOf(pid).map((one) => `${making[0]}, killed: ${one}`));
        server = await startServer({ demo: false, home });
        await untilNothing(pid);
        left.push(...scratchOf(pid).map((one) => `${making[0]}, started again: ${one}`));
      }
    }
    await server.stop();
  } finally {
    clips.remove();
    rmSync(home, { recursive: true, force: true });
  }
  for (const sentence of left.slice(0, 10)) process.stdout.write(`  left: ${sentence}\n`);
  const count = rounds * MAKINGS.length;
  return [
    {
      what: `${count} cancels and ${count} kills in the making of ${MAKINGS.length} kinds: child processes and scratch left`,
      figure: String(left.length),
      wanted: '0',
      reached: left.length === 0,
    },
    {
      what: `${count} cancels: the longest until nothing was left of the making`,
      figure: `${slowest.toFixed(0)} ms`,
      wanted: `≤ ${ENDED_WITHIN_MS} ms`,
      reached: slowest <= ENDED_WITHIN_MS,
      isTime: true,
    },
  ];
}

const wait = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));

async function pieceOver({ url }: ServerProcess, clip: Buffer): Promise<PieceView> {
  const sent = await ask<FootageView>(url, 'POST', 'footage?name=c.mp4', clip);
  const piece = await ask<PieceView>(url, 'POST', 'pieces', { footage: sent?.body.id });
  if (piece?.status !== 201) throw new Error('The piece could not be made.');
  return piece.body;
}

async function begin(
  { url }: ServerProcess,
  { id, recipe }: PieceView,
  [, kind, settings]: (typeof MAKINGS)[number],
  plays: number,
): Promise<string> {
  const weigh = changeWeigh(recipe.weigh, { kind, width: 960 });
  const asked = await ask<TrialView>(url, 'POST', `pieces/${id}/trials`, {
    recipe: {
      ...{ ...recipe, plays: Math.round(plays * 2), span: { start: 0, end: 60 } },
      weigh: { ...weigh, [kind]: { ...weigh[kind], ...settings } },
    },
  });
  return asked?.body.id ?? '';
}

/** Encoders of a server are known by the folder that they write to. */
const childrenOf = (pid: number) =>
  processesWith(`muted-pond-making-${pid}-`).map((child) => `child process ${child}`);
const leftOf = (pid: number) => [...childrenOf(pid), ...scratchOf(pid)];

/** Waits as long as something may take to end. */
async function untilNothing(pid: number, childrenOnly = false): Promise<void> {
  const until = performance.now() + GIVEN_UP_MS;
  const rest = () => (childrenOnly ? childrenOf(pid) : leftOf(pid));
  while (rest().length > 0 && performance.now() < until) await wait(20);
}
