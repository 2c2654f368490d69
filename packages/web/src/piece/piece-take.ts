import type { FootageView } from '@muted-pond/core/api';
import { type Recipe, type SourceFile, sourceHashes, type Take, takeOf } from '@muted-pond/core/recipe';
import { useMemo } from 'react';
import { useStore } from 'zustand';
import type { OpenFile } from '../api/queries.js';
import { shownRecipe } from '../store/piece-store.js';
import { useWorkspace, type Workspace } from './workspace-context.js';

/** The numbered frames that a piece is cut from, with what is known of their files. */
export interface PieceTake extends Take {
  readonly kind: FootageView['kind'] | 'stills';
  /** The file's name, or how many pictures there are. */
  readonly name: string;
  readonly frameCount: number;
  /** Mean frames a second. */
  readonly frameRate: number;
  /** The single file of footage; null for stills. */
  readonly footage: FootageView | null;
}

export function sourceFileOf({ view, times }: OpenFile): SourceFile {
  return { hash: view.id, size: { width: view.width, height: view.height }, times };
}

/** The files of a recipe that are known. */
export function filesOf(recipe: Pick<Recipe, 'sources'>, files: ReadonlyMap<string, OpenFile>): SourceFile[] {
  return sourceHashes(recipe).flatMap((hash) => {
    const file = files.get(hash);
    return file ? [sourceFileOf(file)] : [];
  });
}

export function pieceTake(recipe: Pick<Recipe, 'sources'>, files: ReadonlyMap<string, OpenFile>): PieceTake {
  const known = sourceHashes(recipe).flatMap((hash) => files.get(hash) ?? []);
  const take = takeOf(recipe, known.map(sourceFileOf));
  const [source] = recipe.sources;
  const footage = source.kind === 'footage' ? known[0].view : null;
  const frameCount = take.times.starts.length;
  return {
    ...take,
    kind: footage?.kind ?? 'stills',
    name: footage?.name ?? (frameCount === 1 ? '1 picture' : `${frameCount} pictures`),
    frameCount,
    frameRate: frameCount / take.times.duration,
    footage,
  };
}

/** The take as it is now, for what the hand does. */
export function takeNow({ store, files }: Pick<Workspace, 'store' | 'files'>): PieceTake {
  return pieceTake(shownRecipe(store.getState()), files.getState().files);
}

/** The take as it is shown; the same object until sources or files change. */
export function useTake(): PieceTake {
  const { store, files } = useWorkspace();
  const sources = useStore(store, (state) => shownRecipe(state).sources);
  const known = useStore(files, (state) => state.files);
  return useMemo(() => pieceTake({ sources }, known), [sources, known]);
}
