/**
 * `npm run hold [-- --short] [--kills N] [--mutants N] [--fonts N] [--drawings N] [--cancels N] [--restores N]
 * [--seed S] [kills|mutants|layers|cancels|restores|extremes …]`: the server under fire. Ends with 1 where anything
 * is lost, any answer is 500 and more, or a bound is passed; with `--short`, times only inform.
 */
import { parseArgs } from 'node:util';
import { type BenchRow, printTable } from '../../bench/table.js';
import { holdCancels } from './cancels.js';
import { holdExtremes } from './extremes.js';
import { holdKills } from './kills.js';
import { holdLayers } from './layers.js';
import { holdMutants } from './mutants.js';
import { holdRestores } from './restores.js';

/** How much of each is done, in `npm test` and as a whole. */
const AMOUNTS = {
  kills: { short: 8, whole: 200 },
  mutants: { short: 130, whole: 5000 },
  fonts: { short: 60, whole: 1000 },
  /** Drawings and tables of colours. */
  drawings: { short: 30, whole: 300 },
  /** Rounds, each with a cancel and a kill in every kind of file. */
  cancels: { short: 1, whole: 10 },
  restores: { short: 3, whole: 40 },
} as const;
type Amount = keyof typeof AMOUNTS;

const { values, positionals } = parseArgs({
  allowPositionals: true,
  options: {
    short: { type: 'boolean', default: false },
    seed: { type: 'string', default: '1' },
    kills: { type: 'string' },
    mutants: { type: 'string' },
    fonts: { type: 'string' },
    drawings: { type: 'string' },
    cancels: { type: 'string' },
    restores: { type: 'string' },
  },
});
const amount = (of: Amount) => Number(values[of] ?? AMOUNTS[of][values.short ? 'short' : 'whole']);
const seed = Number(values.seed);

const parts: Record<string, () => Promise<BenchRow[]>> = {
  kills: () => holdKills(amount('kills'), seed),
  mutants: () => holdMutants(amount('mutants'), seed),
  layers: () => holdLayers(amount('fonts'), amount('drawings'), seed),
  cancels: () => holdCancels(amount('cancels'), seed),
  restores: () => holdRestores(amount('restores'), seed),
  extremes: holdExtremes,
};
let isHeld = true;
for (const [name, part] of Object.entries(parts)) {
  if (positionals.length > 0 && !positionals.includes(name)) continue;
  const rows = await part();
  printTable(`${name}, seed ${seed}`, rows);
  // Times are judged on a quiet machine, not in `npm test`.
  isHeld &&= rows.every((row) => row.reached !== false || (values.short && row.isTime));
}
process.exitCode = isHeld ? 0 : 1;
