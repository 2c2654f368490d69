import type { Saving } from '@muted-pond/core/api';
import { LOOK_IDS } from '@muted-pond/core/colour';
import type { SavingFamily } from '@muted-pond/core/derived';
import { fileKind } from '@muted-pond/core/files';
import { changeWeigh, RECIPE_LIMITS, type Recipe, takeOf, type WeighChange } from '@muted-pond/core/recipe';
import { encodeTask, type MakingProgress, type MakingTask, sourceFile } from '../making/index.js';

/** How far each is turned. */
const FEWER = 2 / 3;
const NARROWER = 0.8;
const SHORTER = 0.8;

/** One thing changed, and nothing else. */
function changesOf(recipe: Recipe, sourceRate: number): { kind: Saving['kind']; recipe: Recipe }[] {
  const { weigh, span, still } = recipe;
  const weighed = (part: WeighChange): Recipe => ({ ...recipe, weigh: changeWeigh(weigh, part) });
  const changes: { kind: Saving['kind']; recipe: Recipe }[] = [
    ...fileKind(weigh.kind)
      .savings(weigh[weigh.kind])
      .map(({ kind, change }) => ({ kind, recipe: weighed({ [weigh.kind]: change }) })),
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
