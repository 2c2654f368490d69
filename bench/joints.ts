import {
  closedReel,
  createMovementFinder,
  type JointScore,
  type Look,
  type Looks,
  makeLoop,
  measureJoint,
  PLAIN_LOOP,
  SEAM_VERDICTS,
  seamVerdict,
} from '@muted-pond/core/loop';
import { filmedTake, isFilmed } from './filmed-takes.js';
import { FLOWED_JOINTS, SEEN_JOINTS, type SeenJoint } from './joint-list.js';
import { drawnJointTake } from './joint-takes.js';
import { looksOf } from './looks.js';
import { type BenchRow, printTable } from './table.js';

const FILMED_SIZE = { width: 160, height: 120 };
/** All are judged as if they were filmed at so many frames a second. */
const RATE = 25;
const SCORE_MS = 400;
const TIMED_RUNS = 7;
const WANTED = { near: 0.9, rank: 0.85 };

interface Scored {
  readonly joint: SeenJoint;
  readonly score: JointScore;
}

/** The score of joints against what was seen of them. */
export async function benchJoints(root: string): Promise<void> {
  const takes = new Map<string, readonly Look[] | null>();
  const scored = scoreAll(root, SEEN_JOINTS, takes);
  const flowed = scoreAll(root, FLOWED_JOINTS, takes);
  for (const { joint, score } of [...scored, ...flowed]) printJoint(joint, score);
  const rows = [
    ...rowsOf(
      'for fitting',
      scored.filter((_, i) => i % 2 === 0),
    ),
    ...rowsOf(
      'for testing',
      scored.filter((_, i) => i % 2 === 1),
    ),
    ...rowsOf('that flow', flowed),
    timeRow(root),
  ];
  printTable('joints', rows);
}

function scoreAll(
  root: string,
  joints: readonly SeenJoint[],
  takes: Map<string, readonly Look[] | null>,
): Scored[] {
  return joints.flatMap((joint) => {
    if (!takes.has(joint.take)) takes.set(joint.take, looksOfTake(root, joint.take));
    const frames = takes.get(joint.take);
    if (!frames) return [];
    return [{ joint, score: scoreJoint(frames, joint) }];
  });
}

function looksOfTake(root: string, name: string): readonly Look[] | null {
  const frames = isFilmed(name) ? filmedTake(root, name, FILMED_SIZE) : drawnJointTake(name);
  return frames && looksOf(frames);
}

function scoreJoint(frames: readonly Look[], { start, length, every, join: how }: SeenJoint): JointScore {
  const times = { starts: frames.map((_, i) => i / RATE), duration: frames.length / RATE };
  const span = { start, end: start + length * every };
  const loop = makeLoop(times, span, 'source', every, { ...PLAIN_LOOP, join: how });
  const looks: Looks = { at: (frame) => frames[frame] ?? null };
  const score = measureJoint(looks, createMovementFinder(frames[0].luma), closedReel(loop));
  if (!score) throw new Error('A take lacks frames of its joint.');
  return score;
}

/** How long it takes to judge a crossfade of eight frames when nothing is known of the take yet. */
function timeRow(root: string): BenchRow {
  const joint = SEEN_JOINTS.find(({ join: how }) => 'frames' in how && how.frames === 8) as SeenJoint;
  const frames = looksOfTake(root, joint.take) as readonly Look[];
  const times = Array.from({ length: TIMED_RUNS }, () => {
    const began = performance.now();
    scoreJoint(frames, joint);
    return performance.now() - began;
  });
  const least = Math.min(...times);
  return {
    what: `score of a crossfade over 8 frames, looks of ${frames[0].luma.width} × ${frames[0].luma.height}, one thread, least of ${TIMED_RUNS}`,
    figure: `${least.toFixed(0)} ms`,
    wanted: `${SCORE_MS} ms`,
    reached: least <= SCORE_MS,
    isTime: true,
  };
}

function printJoint(joint: SeenJoint, score: JointScore): void {
  const { take, start, length, join: how } = joint;
  const { jump, bend, ghost } = score.figures;
  const frames = 'frames' in how ? ` ${how.frames}` : '';
  console.log(
    [
      `${take} ${start}+${length} ${how.kind}${frames}`.padEnd(44),
      `jump ${jump.toFixed(1)} bend ${bend.toFixed(1)} ghost ${ghost.toFixed(1)}`.padEnd(32),
      `${score.score.toFixed(0).padStart(3)} ${seamVerdict(score.score).padEnd(10)} seen: ${joint.verdict}`,
      `${distance({ joint, score })}`.padStart(4),
    ].join(' '),
  );
}

/** How many words too kind the score is; less than 0: too strict. */
function distance({ joint, score }: Scored): number {
  return SEAM_VERDICTS.indexOf(seamVerdict(score.score)) - SEAM_VERDICTS.indexOf(joint.verdict);
}

function rowsOf(which: string, scored: readonly Scored[]): BenchRow[] {
  const off = scored.map(distance);
  const near = off.filter((words) => Math.abs(words) <= 1).length / scored.length;
  const kind = off.filter((words) => words >= 2).length;
  const same = off.filter((words) => words === 0).length;
  const verdicts = scored.map(({ joint }) => SEAM_VERDICTS.indexOf(joint.verdict));
  const rank = rankCorrelation(
    scored.map(({ score }) => score.score),
    verdicts,
  );
  const order = scored.map((_, i) => i).sort((one, other) => verdicts[one] - verdicts[other]);
  const inOrder = scored.map((_, i) => order.indexOf(i));
  const highest = rankCorrelation(inOrder, verdicts);
  return [
    {
      what: `${which}: joints in the right word or the one beside it, of ${scored.length} (${same} in the right one)`,
      figure: `${(100 * near).toFixed(0)} %`,
      wanted: `≥ ${100 * WANTED.near} %`,
      reached: near >= WANTED.near,
    },
    { what: `${which}: two words too kind`, figure: `${kind}`, wanted: '0', reached: kind === 0 },
    {
      what: `${which}: rank correlation`,
      figure: `${rank.toFixed(2)} (with so many alike at most ${highest.toFixed(2)})`,
      wanted: `≥ ${WANTED.rank}`,
      reached: rank >= WANTED.rank,
    },
  ];
}

/** Spearman's: the correlation of the ranks, of equal values the mean rank. */
function rankCorrelation(one: readonly number[], other: readonly number[]): number {
  const [a, b] = [one, other].map(ranksOf);
  const mean = (a.length - 1) / 2;
  const product = (x: readonly number[], y: readonly number[]) =>
    x.reduce((sum, value, i) => sum + (value - mean) * (y[i] - mean), 0);
  return product(a, b) / Math.sqrt(product(a, a) * product(b, b));
}

function ranksOf(values: readonly number[]): number[] {
  return values.map((value) => {
    const below = values.filter((other) => other < value).length;
    const same = values.filter((other) => other === value).length;
    return below + (same - 1) / 2;
  });
}
