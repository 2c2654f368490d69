import { join } from 'node:path';
import { newRecipe } from '../packages/core/src/recipe/index.js';
import { fitFiles, sourceFile } from '../packages/server/src/making/index.js';
import { probeHere } from '../packages/server/src/media/index.js';
import { type BenchRow, printTable } from './table.js';

const CLIPS = ['lantern.mp4', 'kettle.mov', 'koi.webm'];
const LIMITS = [
  { name: 'Chat square', bytes: 600_000, width: 320, height: 320 },
  { name: 'Blog column', bytes: 900_000, width: 560, height: null },
  { name: 'Message sticker', bytes: 280_000, width: 512, height: 512 },
];
/** Full encodes that an offer may take. */
const WANTED_ENCODES = 4;
/** Share of the limit at which a file is near enough. */
const NEAR = 0.92;

/** Fitting true clips under limits: how many full encodes each offer took, and how near it came. */
export async function benchFit(root: string): Promise<void> {
  const rows: BenchRow[] = [];
  for (const [place, clip] of CLIPS.entries()) {
    const path = join(root, 'demo/footage', clip);
    // Frames are kept under it: each clip has one of its own.
    const hash = String(place).padStart(64, '0');
    const file = { hash, path, name: clip, facts: await probeHere(path, clip) };
    const recipe = newRecipe(file.hash, sourceFile(file).times);
    for (const limit of LIMITS) {
      const whole = { ...limit, seconds: null, frameRate: null, alpha: false, kinds: null };
      const offers = await fitFiles({ files: [file], layers: [], recipe, limit: whole }, () => {});
      const shares = offers.map(({ made }) => made.bytes.length / limit.bytes);
      const encodes = offers.map((offer) => offer.encodes);
      // One offer alone is the best there is, and may be lighter.
      const isNear = shares.length === 1 || shares.every((share) => share >= NEAR);
      rows.push({
        what: `${clip}, ${limit.name}`,
        figure: offers
          .map(({ kind }, i) => `${kind} ${(shares[i] * 100).toFixed(0)} % in ${encodes[i]}`)
          .join(', '),
        wanted: `≤ 100 %, in ≤ ${WANTED_ENCODES}`,
        reached:
          isNear && shares.every((share) => share <= 1) && encodes.every((count) => count <= WANTED_ENCODES),
      });
    }
  }
  printTable('fitting under a limit', rows);
}
