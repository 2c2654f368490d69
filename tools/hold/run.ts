/**
 * `npm run hold [-- --short] [--kills N] [--mutants N] [--seed S] [kills|mutants|extremes …]`: the server
 * under fire. Ends with 1 where anything is lost, any answer is 500 and more, or a bound is passed.
 */
import { parseArgs } from 'node:util';
import { type BenchRow, printTable } from '../../bench/table.js';
import { holdExtremes } from './extremes.js';
import { holdKills } from './kills.js';
import { holdMutants } from './mutants.js';

const { values, positionals } = parseArgs({
  allowPositionals: true,
  options: {
    short: { type: 'boolean', default: false },
    kills: { type: 'string' },
    mutants: { type: 'string' },
    seed: { type: 'string', default: '1' },
  },
});
const kills = Number(values.kills ?? (values.short ? 8 : 200));
const mutants = Number(values.mutants ?? (values.short ? 130 : 5000));
const seed = Number(values.seed);

const parts: Record<string, () => Promise<BenchRow[]>> = {
  kills: () => holdKills(kills, seed),
  mutants: () => holdMutants(mutants, seed),
  extremes: holdExtremes,
};
let isHeld = true;
for (const [name, part] of Object.entries(parts)) {
  if (positionals.length > 0 && !positionals.includes(name)) continue;
  const rows = await part();
  printTable(`${name}, seed ${seed}`, rows);
  isHeld &&= rows.every((row) => row.reached !== false);
}
process.exitCode = isHeld ? 0 : 1;
