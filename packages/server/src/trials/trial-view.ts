import type { SeenLikeness, TrialProgress, TrialView } from '@muted-pond/core/api';
import { fileKind } from '@muted-pond/core/files';
import { type Recipe, readRecipe } from '@muted-pond/core/recipe';
import { nextRevision } from '../jobs/index.js';
import type { Trial } from './trial.entity.js';

/** What everyone is told of a trial. @param progress of one in the making; null for all others. */
export function trialView(row: Trial, progress: TrialProgress | null): TrialView {
  const { id, pieceId, ordinal, name, pinned, key, state, recipe, figures, seen, problem, createdAt } = row;
  const now = upToDate(recipe);
  return {
    ...{ id, piece: pieceId, letter: letterOf(ordinal), name, pinned, key },
    state: progress && state === 'waiting' && progress.done > 0 ? 'working' : state,
    recipe: now,
    shownAs: fileKind(figures?.kind ?? now.weigh.kind).shownAs,
    figures,
    seen: seen && seenView(seen),
    ...{ problem, progress, createdAt, revision: nextRevision() },
  };
}

/** A recipe kept with an older trial, as today's interface reads it. */
export function upToDate(recipe: Recipe): Recipe {
  const reading = readRecipe(recipe);
  return reading.type === 'ok' ? reading.recipe : recipe;
}

/** 0 A … 25 Z, 26 AA. */
export function letterOf(ordinal: number): string {
  const last = String.fromCharCode(65 + (ordinal % 26));
  return ordinal < 26 ? last : letterOf(Math.floor(ordinal / 26) - 1) + last;
}

/** What others are told of a likeness: not when it is tried again. */
function seenView({ width, value, problem }: SeenLikeness): SeenLikeness {
  return problem === undefined ? { width, value } : { width, value, problem };
}
