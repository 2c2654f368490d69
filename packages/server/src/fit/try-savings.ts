import type { Saving } from '@muted-pond/core/api';
import { LOOK_IDS } from '@muted-pond/core/colour';
import type { SavingFamily } from '@muted-pond/core/derived';
import { QUALITIES } from '@muted-pond/core/files';
import { changeWeigh, RECIPE_LIMITS, type Recipe, takeOf, type WeighChange } from '@muted-pond/core/recipe';
import { encodeTask, type MakingProgress, type MakingTask, sourceFile } from '../making/index.js';

/** How far each is turned. */
const FEWER = 2 / 3;
const NARROWER = 0.8;
const SHORTER = 0.8;
const FEWER_COLORS = 128;

/** As the small quality has it, or half as much again; never more than there is. */
function more(now: number, small: number): number {
  return Math.min(RECIPE_LIMITS.settle.max, Math.max(small, now * 1.5));
}

/** How much lower a quality is tried, of 100. */
const LOWER = 15;

interface OwnChange {
  readonly kind: Saving['kind'];
  readonly change: WeighChange;
}

/** What only the kind of file itself can be told. */
function ownChangesOf({ weigh }: Recipe): OwnChange[] {
  const { gif, kind } = weigh;
  if (kind === 'gif') {
    const changes: OwnChange[] = [
      { kind: 'settle', change: { gif: { settle: more(gif.settle, QUALITIES.small.settle) } } },
      { kind: 'squeeze', change: { gif: { squeeze: more(gif.squeeze, QUALITIES.small.squeeze) } } },
    ];
    if (gif.colors > FEWER_COLORS) {
      changes.push({ kind: 'fewer-colours', change: { gif: { colors: FEWER_COLORS } } });
    }
    if (gif.dither !== 'none') changes.push({ kind: 'no-dither', change: { gif: { dither: 'none' } } });
    return changes;
  }
  if (kind === 'apng') {
    const { apng } = weigh;
    return [
      { kind: 'settle', change: { apng: { settle: more(apng.settle, QUALITIES.balanced.settle) } } },
      { kind: 'fewer-colours', change: { apng: { colours: 'palette', colors: FEWER_COLORS } } },
    ];
  }
  if (kind === 'frames' || kind === 'poster') return [];
  const { quality, settle } = weigh[kind];
  return [
    { kind: 'lower-quality', change: { [kind]: { quality: Math.max(0, quality - LOWER) } } },
    { kind: 'settle', change: { [kind]: { settle: more(settle, QUALITIES.balanced.settle) } } },
  ];
}

/** One thing changed, and nothing else. */
function changesOf(recipe: Recipe, sourceRate: number): { kind: Saving['kind']; recipe: Recipe }[] {
  const { weigh, span, still } = recipe;
  const weighed = (part: WeighChange): Recipe => ({ ...recipe, weigh: changeWeigh(weigh, part) });
  const changes: { kind: Saving['kind']; recipe: Recipe }[] = [
    ...ownChangesOf(recipe).map(({ kind, change }) => ({ kind, recipe: weighed(change) })),
    {
      kind: 'narrower',
      recipe: weighed({
        width: Math.max(RECIPE_LIMITS.width.min, 2 * Math.round((weigh.width * NARROWER) / 2)),
      }),
    },
  ];
  if (weigh.frameRate !== 'source') {
    const frameRate = Math.max(1, Math.round(Math.min(weigh.frameRate, sourceRate) * FEWER));
    changes.push({ kind: 'fewer-frames', recipe: weighed({ frameRate }) });
  }
  const shorter = span.start + Math.max(2, Math.round((span.end - span.start) * SHORTER));
  if (shorter < span.end && recipe.sources[0].kind === 'footage' && recipe.loop.edits.length === 0) {
    changes.push({ kind: 'shorter', recipe: { ...recipe, span: { ...span, end: shorter } } });
  }
  if (still.plate && !still.steady && recipe.sources[0].kind === 'footage') {
    changes.push({ kind: 'steady', recipe: { ...recipe, still: { ...still, steady: true } } });
  }
  return changes;
}

/** Each look by itself, as strong as the one that is chosen. */
function looksOf(recipe: Recipe): { kind: Saving['kind']; recipe: Recipe }[] {
  const strength = recipe.dress.colour.look?.strength ?? 100;
  return LOOK_IDS.map((id) => ({ kind: 'look', recipe: withLook(recipe, { id, strength }) }));
}

function withLook(recipe: Recipe, look: Recipe['dress']['colour']['look']): Recipe {
  const { dress } = recipe;
  return { ...recipe, dress: { ...dress, colour: { ...dress.colour, look } } };
}

export interface SavingsTask extends MakingTask {
  readonly of: SavingFamily;
}

export interface TriedSavings {
  /** Of the file as it is; of looks, of the one without a look. */
  readonly bytes: number;
  readonly savings: readonly Saving[];
}

/**
 * Makes the file once for each thing that could be changed, and tells what each would save; the most first.
 */
export async function trySavings(
  { of, ...task }: SavingsTask,
  onProgress: (progress: MakingProgress) => void,
): Promise<TriedSavings> {
  const { times } = takeOf(task.recipe, task.files.map(sourceFile));
  const isOfLooks = of === 'looks';
  const base = isOfLooks ? withLook(task.recipe, null) : task.recipe;
  const changes = isOfLooks ? looksOf(task.recipe) : changesOf(base, times.starts.length / times.duration);
  const made = async (recipe: Recipe, turn: number, doing: string) => {
    const { bytes } = await encodeTask(
      { ...task, recipe },
      { onProgress: ({ done }) => onProgress({ doing, done: (turn + done) / (changes.length + 1) }) },
    );
    return bytes.length;
  };
  const bytes = await made(
    base,
    0,
    isOfLooks ? 'making the file without a look' : 'making the file as it is',
  );
  const savings: Saving[] = [];
  for (const [turn, { kind, recipe }] of changes.entries()) {
    const doing = isOfLooks ? 'trying one look after the other' : 'trying one change after the other';
    savings.push({ kind, recipe, bytes: await made(recipe, turn + 1, doing) });
  }
  return { bytes, savings: savings.sort((one, other) => one.bytes - other.bytes) };
}
