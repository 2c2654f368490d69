import { percentile } from '../../bench/measure.js';
import type { BenchRow } from '../../bench/table.js';
import { startServer } from '../server-process.js';
import { ask, watch } from './asking.js';

const MOST_MEGABYTES = 1536;
const WANTED_MS = 100;
/** Files under way at once. */
const AT_ONCE = 3;

/** A file that is sent. */
export interface Shot {
  readonly name: string;
  readonly bytes: Buffer;
}

/** What sends a shot reports. */
export interface FireReport {
  /** An answer; none where the status is 0. */
  answered(name: string, status: number): void;
  /** Something that may not be. */
  failed(sentence: string): void;
}

/**
 * Sends files to a server of its own and watches over it: it must answer each, go on answering others soon, and be
 * the same process at the end.
 */
export async function underFire(
  what: string,
  shots: Shot[],
  send: (url: string, shot: Shot, report: FireReport) => Promise<void>,
): Promise<BenchRow[]> {
  const server = await startServer({ demo: false });
  const watching = watch(server.url, server.pid);
  const statuses = new Map<number, number>();
  const bad: string[] = [];
  const report: FireReport = {
    answered(name, status) {
      statuses.set(status, (statuses.get(status) ?? 0) + 1);
      if (status === 0 || status >= 500) bad.push(`${name}: ${status}`);
    },
    failed: (sentence) => bad.push(sentence),
  };
  const count = shots.length;
  const one = async () => {
    for (let shot = shots.pop(); shot; shot = shots.pop()) await send(server.url, shot, report);
  };
  await Promise.all(Array.from({ length: AT_ONCE }, one));
  const isAlive = (await ask(server.url, 'GET', 'limits'))?.status === 200;
  const { times, mostMegabytes } = await watching.stop();
  await server.stop();
  for (const sentence of bad.slice(0, 10)) process.stdout.write(`  ${sentence}\n`);
  const p99 = percentile(times, 0.99);
  const told = [...statuses].map(([status, n]) => `${n} × ${status}`).join(', ');
  return [
    {
      what: `${count} ${what} (${told}): no answer, or 500 and more`,
      figure: String(bad.length),
      wanted: '0',
      reached: bad.length === 0,
    },
    {
      what: `${count} ${what}: servers ended`,
      figure: isAlive ? '0' : '1',
      wanted: '0',
      reached: isAlive,
    },
    {
      what: `${count} ${what}: most memory of the server`,
      figure: `${mostMegabytes.toFixed(0)} MB`,
      wanted: `≤ ${MOST_MEGABYTES} MB`,
      reached: mostMegabytes <= MOST_MEGABYTES,
    },
    {
      what: `${count} ${what}: a small GET meanwhile, p99 of ${times.length}`,
      figure: `${p99.toFixed(0)} ms`,
      wanted: `≤ ${WANTED_MS} ms`,
      reached: p99 <= WANTED_MS,
      isTime: true,
    },
  ];
}
