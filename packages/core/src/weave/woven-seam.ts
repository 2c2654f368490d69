import {
  type Blocks,
  createMovementFinder,
  energyBetween,
  GHOST_BLOCK,
  type JointScore,
  judgeRound,
  type Look,
  lookSize,
  type Movement,
  mixtureWeight,
  type NaturalSteps,
  type OwnChange,
  ownChange,
  type ShownFrame,
  STEP_BLOCK,
  seenGhosts,
  turnOf,
} from '../loop/index.js';
import type { Size } from '../pixels/index.js';
import { weavePlanes } from './joint-figures.js';
import { looksOfPlanes } from './plane-looks.js';
import { cellFrames, STILL, type Weave } from './weave.js';
import type { WovenTake } from './woven-take.js';

/** Moments of the take from which the footage's own doings are learnt. */
const MOMENTS = 14;

/**
 * How a weave is seen: every step of its round is judged, since some part of the picture closes in each. What the
 * footage does by itself is learnt cell by cell from the frames that the cells show, and two pictures are seen through
 * each other in the cells that melt.
 * @param seconds for which a frame is shown.
 */
export function measureWeave(take: WovenTake, weave: Weave, seconds: number): JointScore {
  const footage = footageOf(take);
  const round = looksOfPlanes(weavePlanes(take, weave), weave.length, footage.size);
  const shown = new Map(
    round.map((look, place): [number, ShownFrame] => [place, { look, mixed: null, seconds }]),
  );
  const steps = round.map((_, place) => place);
  const ghosts = seenGhosts(lostInCells(take, weave, footage, seconds), footage.own);
  return judgeRound(
    createMovementFinder(footage.size),
    { shown, steps, count: weave.length },
    naturalOf(take, weave, footage),
    footage.own,
    ghosts,
  );
}

/** What is known of the footage of a take. */
interface Footage {
  readonly size: Size;
  readonly looks: readonly Look[];
  readonly own: OwnChange;
  /** Of each frame: what no movement explains in its step to the next, and how movement changes there; null at the ends. */
  readonly missed: readonly (Float32Array | null)[];
  readonly turns: readonly (ReturnType<typeof turnOf> | null)[];
}

/** Weaves of one take are measured again and again. */
const known = new WeakMap<WovenTake, Footage>();

function footageOf(take: WovenTake): Footage {
  const there = known.get(take);
  if (there) return there;
  const { frames } = take.statistics;
  const size = lookSize(take.planes);
  const looks = looksOfPlanes(take.planes, frames, size);
  const finder = createMovementFinder(size);
  const missed: (Float32Array | null)[] = [];
  const turns: (ReturnType<typeof turnOf> | null)[] = [];
  let before: Movement | null = null;
  // A movement is remembered as long as its first look, and takes more room than ten looks: these go at once.
  let from = { ...looks[0] };
  for (let frame = 0; frame < frames; frame++) {
    const to = frame + 1 < frames ? { ...looks[frame + 1] } : null;
    const movement = to && finder.between(from, to);
    missed.push(movement?.missed.values ?? null);
    turns.push(before && movement ? turnOf(before, movement) : null);
    before = movement;
    if (to) from = to;
  }
  const own = ownChange(finder, momentsOf(looks));
  const footage = { size, looks, own, missed, turns };
  known.set(take, footage);
  return footage;
}

function momentsOf(looks: readonly Look[]): [Look, Look, Look][] {
  const most = Math.max(1, Math.min(MOMENTS, looks.length - 2));
  return Array.from({ length: most }, (_, k) => {
    const at = Math.floor(((k + 0.5) * Math.max(0, looks.length - 2)) / most);
    const look = (frame: number) => looks[Math.min(looks.length - 1, frame)];
    return [look(at), look(at + 1), look(at + 2)];
  });
}

/** What the footage does at the frames that the cells of each block show. */
function naturalOf(take: WovenTake, weave: Weave, footage: Footage): NaturalSteps {
  const blocks = cellsOfBlocks(take, footage.size, STEP_BLOCK);
  const frameAt = (cell: number, place: number) =>
    weave.starts[cell] === STILL
      ? null
      : cellFrames(weave, cell, weave.first + place).frame - take.firstFrame;
  /** The largest of what frames of a block's cells show there. */
  const largest = (place: number, framesOf: (frame: number, next: number) => (Float32Array | null)[]) =>
    Float32Array.from(blocks, (cells, b) => {
      const seen = new Set<number>();
      let most = 0;
      for (const cell of cells) {
        const [frame, next] = [frameAt(cell, place), frameAt(cell, place + 1)];
        if (frame === null || next === null || seen.has(frame * weave.length + next)) continue;
        seen.add(frame * weave.length + next);
        for (const values of framesOf(frame, next)) if (values) most = Math.max(most, values[b]);
      }
      return most;
    });
  return {
    missed: (place) => [
      largest(place, (frame, next) => [footage.missed[frame], footage.missed[next - 1] ?? null]),
    ],
    turns: (place) => {
      const of = (figure: 'bend' | 'speed') =>
        largest(place, (frame, next) => [
          footage.turns[frame]?.[figure] ?? null,
          footage.turns[next]?.[figure] ?? null,
        ]);
      return [{ bend: of('bend'), speed: of('speed') }];
    },
  };
}

/** Gradient energy that cells lose while they melt, by ghost block. */
function lostInCells(take: WovenTake, weave: Weave, { looks, size }: Footage, seconds: number): Blocks {
  const blocks = cellsOfBlocks(take, size, GHOST_BLOCK);
  const lost = new Float32Array(blocks.length);
  const energies = new Map<string, Blocks>();
  const energyOf = (a: number, b: number) => {
    const key = `${Math.min(a, b)} ${Math.max(a, b)}`;
    const made = energies.get(key) ?? energyBetween(looks[a], looks[b], GHOST_BLOCK);
    energies.set(key, made);
    return made;
  };
  for (let place = 0; place < weave.length; place++) {
    for (const [b, cells] of blocks.entries()) {
      for (const cell of cells) {
        if (weave.starts[cell] === STILL) continue;
        const { frame, other, share } = cellFrames(weave, cell, weave.first + place);
        if (share === 0) continue;
        const { values } = energyOf(frame - take.firstFrame, other - take.firstFrame);
        lost[b] += (mixtureWeight(share, seconds) * values[b]) / cells.length;
      }
    }
  }
  const columns = Math.ceil(size.width / GHOST_BLOCK);
  return { columns, rows: lost.length / columns, values: lost };
}

/** The cells whose middles lie in each block of the looks; of a block without any, the nearest. */
function cellsOfBlocks({ grid }: WovenTake, size: Size, side: number): number[][] {
  const columns = Math.ceil(size.width / side);
  const rows = Math.ceil(size.height / side);
  const blocks = Array.from({ length: columns * rows }, (): number[] => []);
  const [across, down] = [size.width / grid.width, size.height / grid.height];
  const blockAt = (x: number, y: number) =>
    Math.min(rows - 1, Math.floor((y * down) / side)) * columns +
    Math.min(columns - 1, Math.floor((x * across) / side));
  for (let cell = 0; cell < grid.cols * grid.rows; cell++) {
    const [column, row] = [cell % grid.cols, Math.floor(cell / grid.cols)];
    blocks[blockAt((column + 0.5) * grid.cell, (row + 0.5) * grid.cell)].push(cell);
  }
  return blocks;
}
