import { boxMean } from '../../pixels/index.js';
import { percentile } from '../percentile.js';
import { type Blocks, blockMeans } from './blocks.js';
import { energyBetween } from './gradient-energy.js';
import type { Look } from './look.js';
import { changeOfMovement, type Movement, type MovementFinder, STEP_BLOCK, speedOf } from './movement.js';

/** Side of the blocks in which ghosts are summed, px of a look. */
export const GHOST_BLOCK = 8;
/** Moments at which more than this many times as much is unexplained as usual are cuts or flashes. */
const UNUSUAL = { times: 3, more: 2 };
/** What most moments stay below: this share of them. */
const MOSTLY = 0.8;
/** What is usual: this share of the moments has less. */
const USUAL = 0.4;

/** Three looks that follow each other as frames of the reel do. */
export type Moment = readonly [Look, Look, Look];

/** What footage does by itself, movement told apart from what no movement explains. */
export interface OwnChange {
  /** By ghost block: squared gradients that change from frame to frame and that no movement explains. */
  readonly gradients: Blocks;
  /** By step block: squared levels that no movement explains. */
  readonly unexplained: Float32Array;
  /** By step block: squared levels from frame to frame, movement left in. */
  readonly step: Float32Array;
  /** By step block, px. */
  readonly speed: Float32Array;
  /** By step block: change of movement from one step to the next, px. */
  readonly bend: Float32Array;
  /** Squared levels between two frames that show the same. */
  readonly noise: number;
  /** Whether a movement is one as usual, and neither a cut nor a flash. */
  readonly isUsual: (movement: Movement) => boolean;
}

/**
 * What happens at some moments of a take. Cuts and flashes among them are left out, so that they hide nothing.
 * @param moments one at least.
 */
export function ownChange(finder: MovementFinder, moments: readonly Moment[]): OwnChange {
  const looks = moments.map((moment) => ({
    moment,
    moves: [finder.between(moment[0], moment[1]), finder.between(moment[1], moment[2])] as const,
  }));
  const missedOf = ({ missed }: Movement) => mean(missed.values);
  const totals = looks.map(({ moves }) => Math.max(...moves.map(missedOf)));
  const most = UNUSUAL.times * percentile(totals, USUAL) + UNUSUAL.more;
  const steady = looks.filter((_, i) => totals[i] <= most);
  const moves = steady.flatMap((look) => look.moves);
  const noises = steady.map(({ moment }) => noiseOf(moment));
  const noise = percentile(noises, 0.25);
  return {
    gradients: gradientsOf(moves),
    unexplained: mostlyBelow(moves.map(({ missed }) => missed)),
    step: mostlyBelow(moves.map(({ plain }) => plain)).map((value) => Math.max(0, value - noise)),
    speed: mostlyBelow(moves.map(speedOf)),
    bend: mostlyBelow(steady.map((look) => changeOfMovement(...look.moves))),
    noise,
    isUsual: (movement) => missedOf(movement) <= most,
  };
}

/** Second differences of the stillest blocks. The weights 1, −2, 1 make a variance six times as large, a difference makes it two. */
function noiseOf([{ luma: a }, { luma: b }, { luma: c }]: Moment): number {
  const bends = b.values.map((value, p) => (a.values[p] - 2 * value + c.values[p]) ** 2);
  return percentile(blockMeans(bends, b, STEP_BLOCK).values, 0.1) / 3;
}

/**
 * What each block does most of the time, then the mean with those around it. An edge that passes by hides a ghost for
 * a moment only, and a mean over the moments would count it; steam and leaves change always.
 */
function gradientsOf(moves: readonly Movement[]): Blocks {
  const energies = moves.map(({ from, led }) => energyBetween(led, from, GHOST_BLOCK));
  const [{ columns, rows }] = energies;
  const usual = Float32Array.from({ length: columns * rows }, (_, b) =>
    percentile(
      energies.map(({ values }) => values[b]),
      USUAL,
    ),
  );
  return { columns, rows, values: boxMean(usual, { width: columns, height: rows }, 1, 1) };
}

/** What each block stays below at most moments. The largest alone would let one passing thing hide what comes after it. */
function mostlyBelow(blocks: readonly Blocks[]): Float32Array {
  return blocks[0].values.map((_, b) =>
    percentile(
      blocks.map(({ values }) => values[b]),
      MOSTLY,
    ),
  );
}

function mean(values: Float32Array): number {
  return values.reduce((sum, value) => sum + value, 0) / values.length;
}
