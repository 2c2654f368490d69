import { spawnSync } from 'node:child_process';
import {
  existsSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  rmSync,
  statSync,
  truncateSync,
  writeFileSync,
} from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import sharp from 'sharp';
import type { BenchRow } from '../../bench/table.js';
import type { FootageView, PieceView, ShelfPiece } from '../../packages/core/src/api/index.js';
import { seeded, wholeFrom } from '../../packages/core/src/testing/seeded.js';
import { startServer } from '../server-process.js';
import { type Answer, ask } from './asking.js';

const CLI = fileURLToPath(new URL('../../packages/server/dist/data-folder/cli.js', import.meta.url));

/**
 * Backups of a server in use, restored, restored twice, and damaged by chance before: what a backup holds comes
 * back, nothing is lost that was put aside, and a damaged one changes nothing.
 */
export async function holdRestores(rounds: number, seed: number): Promise<BenchRow[]> {
  const random = seeded(seed);
  const home = mkdtempSync(join(tmpdir(), 'muted-pond-restores-'));
  const dataDir = join(home, '.muted-pond');
  const wrong: string[] = [];
  let refused = 0;
  const command = (...args: string[]) => {
    const { status, stderr } = spawnSync(process.execPath, [CLI, ...args], {
      env: { ...process.env, HOME: home, MUTED_POND_DATA: dataDir },
      encoding: 'utf8',
    });
    if (status !== 0 && (stderr.trim().split('\n').length !== 1 || /\bat .*:\d+/.test(stderr))) {
      wrong.push(`no sentence: ${stderr.slice(0, 200)}`);
    }
    return status === 0;
  };
  const shelf = async () => {
    const server = await startServer({ demo: false, home });
    const names = await namesOn(server.url);
    await server.stop();
    return names;
  };
  const aside = () => readdirSync(home).filter((name) => name.includes('.before-'));
  try {
    for (let round = 0; round < rounds; round++) {
      const server = await startServer({ demo: false, home });
      await addPiece(server.url, `round ${round}`, random);
      const backup = join(dataDir, 'backups', `round-${round}`);
      const isMade = command('backup', backup);
      const held = await namesOn(server.url);
      await addPiece(server.url, `after ${round}`, random);
      await server.stop();
      if (!isMade) wrong.push(`round ${round}: no backup was made`);

      const before = await shelf();
      const asideBefore = aside().length;
      const isDamaged = damage(backup, random);
      const isRestored = command('restore', backup);
      if (isRestored === isDamaged)
        wrong.push(`round ${round}: ${isDamaged ? 'a damaged' : 'a whole'} backup`);
      if (!isRestored) refused++;
      const now = await shelf();
      const expected = isRestored ? held : before;
      if (JSON.stringify(now) !== JSON.stringify(expected)) {
        const [lost, more] = [without(expected, now), without(now, expected)];
        const what = isRestored ? 'restored' : 'refused';
        wrong.push(
          `round ${round}, ${what}: lacks “${lost.join('”, “')}”, has “${more.join('”, “')}” beside`,
        );
      }
      if (isRestored && !command('restore', backup)) wrong.push(`round ${round}: not a second time`);
      const made = aside().length - asideBefore;
      if (made !== (isRestored ? 2 : 0)) wrong.push(`round ${round}: ${made} put aside`);
      for (let earlier = 0; earlier <= round; earlier++) {
        if (!existsSync(join(dataDir, 'backups', `round-${earlier}`)))
          wrong.push(`backup ${earlier} is gone`);
      }
    }
  } finally {
    rmSync(home, { recursive: true, force: true });
  }
  for (const sentence of wrong.slice(0, 10)) process.stdout.write(`  ${sentence}\n`);
  return [
    {
      what: `${rounds} backups of a server in use, ${refused} damaged by chance: wrongly restored, refused or lost`,
      figure: String(wrong.length),
      wanted: '0',
      reached: wrong.length === 0,
    },
  ];
}

/** Tries to reach a server that was started a moment ago: on a busy machine, a connection may take longer than it is given. */
const TRIES = 5;

/** Names of the pieces that a server has. */
async function namesOn(url: string): Promise<string[]> {
  let answer: Answer<ShelfPiece[]> | null = null;
  for (let tries = 0; tries < TRIES && !answer; tries++) answer = await ask(url, 'GET', 'pieces');
  if (answer?.status !== 200)
    throw new Error(`The server did not list its pieces: ${answer?.status ?? 'no answer'}.`);
  return answer.body.map(({ name }) => name).sort();
}

async function addPiece(url: string, name: string, random: () => number): Promise<void> {
  const background = {
    r: wholeFrom(random, 0, 255),
    g: wholeFrom(random, 0, 255),
    b: wholeFrom(random, 0, 255),
  };
  const picture = await sharp({ create: { width: 40, height: 30, channels: 3, background } })
    .png()
    .toBuffer();
  const sent = await ask<FootageView>(url, 'POST', `footage?name=${encodeURIComponent(name)}.png`, picture);
  await ask<PieceView>(url, 'POST', 'pieces', { stills: [sent?.body.id], name });
}

function without(names: readonly string[], others: readonly string[]): string[] {
  return names.filter((name) => !others.includes(name));
}

/** Half of the backups lose bytes, a file, or have some changed. @returns whether this one did. */
function damage(backup: string, random: () => number): boolean {
  if (random() < 0.5) return false;
  const files = readdirSync(backup, { recursive: true, withFileTypes: true })
    .filter((entry) => entry.isFile())
    .map((entry) => join(entry.parentPath, entry.name))
    .sort();
  const file = files[wholeFrom(random, 0, files.length - 1)];
  const { size } = statSync(file);
  const way = wholeFrom(random, 0, 2);
  if (way === 0) rmSync(file);
  else if (way === 1) truncateSync(file, wholeFrom(random, 0, size - 1));
  else {
    const bytes = readFileSync(file);
    const at = wholeFrom(random, 0, size - 1);
    bytes[at] ^= 1 + wholeFrom(random, 0, 254);
    writeFileSync(file, bytes);
  }
  return true;
}
