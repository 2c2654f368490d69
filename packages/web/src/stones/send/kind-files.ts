import type { TrialFigures, TrialView } from '@muted-pond/core/api';
import { fileKey } from '@muted-pond/core/derived';
import { type FileKindId, fileForm, fileKind, SENT_KINDS } from '@muted-pond/core/files';
import { distinctNames, fileNameOf, fileUrl, type PageFile } from '@muted-pond/core/pages';
import { changeWeigh, type Recipe } from '@muted-pond/core/recipe';
import { useStore } from 'zustand';
import { useWorkspace } from '../../piece/workspace-context.js';
import { useTrialsView } from '../../trials/use-trials.js';
import { formatRate } from '../../ui/format.js';
import { useSendHabits } from './send-habits.js';

/** The present loop in one kind of file, finished. */
export interface KindFile {
  readonly kind: FileKindId;
  readonly trial: TrialView;
  readonly figures: TrialFigures;
  /** As it is saved. */
  readonly name: string;
  /** Whether it is among what is sent. */
  readonly isSent: boolean;
}

/** The finished trial of these settings in a kind of file. */
export function trialOfKind(
  trials: readonly TrialView[],
  recipe: Recipe,
  kind: FileKindId,
): TrialView | null {
  const own = { ...recipe, weigh: changeWeigh(recipe.weigh, { kind }) };
  const key = fileKey(own);
  return trials.find((trial) => trial.state === 'done' && trial.figures && trial.key === key) ?? null;
}

/** The present loop in all kinds in which it is made; none has the name of another. */
export function useKindFiles(): readonly KindFile[] {
  const { store } = useWorkspace();
  const recipe = useStore(store, (state) => state.recipe);
  const piece = useStore(store, (state) => state.name);
  const { trials } = useTrialsView();
  const { pattern, left } = useSendHabits();
  const kinds = SENT_KINDS.includes(recipe.weigh.kind) ? SENT_KINDS : [...SENT_KINDS, recipe.weigh.kind];
  const made = kinds.flatMap((kind) => {
    const trial = trialOfKind(trials, recipe, kind);
    return trial?.figures ? [{ kind, trial, figures: trial.figures }] : [];
  });
  const names = distinctNames(made.map(({ trial }) => nameOf(trial, piece, pattern)));
  return made.map((file, i) => ({ ...file, name: names[i], isSent: !left.includes(file.kind) }));
}

export function nameOf(trial: TrialView, piece: string, pattern: string): string {
  const { recipe, figures, letter } = trial;
  const { kind } = recipe.weigh;
  // It may have the ending of an animation.
  const own =
    fileKind(kind).shownAs === 'still' && !pattern.includes('{kind}') ? `${pattern} still` : pattern;
  const seconds = (figures?.durationMs ?? 0) / 1000;
  return fileNameOf(
    own,
    {
      piece,
      width: String(figures?.width ?? recipe.weigh.width),
      height: String(figures?.height ?? ''),
      rate: seconds > 0 ? formatRate((figures?.frames ?? 0) / seconds) : '0',
      kind: fileKind(kind).name.toLowerCase(),
      date: new Date().toISOString().slice(0, 10),
      trial: letter,
    },
    fileForm(recipe.weigh).extension,
  );
}

/** As a page names it. @param url its name beside the page by default. */
export function pageFileOf({ kind, trial, figures, name }: KindFile, url = fileUrl(name)): PageFile {
  const { width, height, bytes } = figures;
  return { kind, url, mime: fileForm(trial.recipe.weigh).mime, width, height, bytes };
}
