import type { PieceView } from '@muted-pond/core/api';
import type { Recipe } from '@muted-pond/core/recipe';
import { plainLine } from '@muted-pond/core/schema';
import { type TemporalState, temporal } from 'zundo';
import { createStore, type StoreApi } from 'zustand';

/** The part of a piece that is saved and undone. */
export interface PieceDocument {
  readonly name: string;
  /** What is to be seen, for who does not see it. */
  readonly about: string;
  readonly recipe: Recipe;
}

export interface PieceState extends PieceDocument {
  readonly id: string;
  /** While a handle is dragged: the recipe as it would be. Never saved, never an undo step. */
  readonly draft: Recipe | null;
  /** One undo step. */
  change(edit: (recipe: Recipe) => Recipe): void;
  rename(name: string): void;
  describe(about: string): void;
  /** Shows a change while the pointer is still down. */
  preview(edit: (recipe: Recipe) => Recipe): void;
  /** The pointer is up: what was previewed becomes one undo step. */
  keepDraft(): void;
  dropDraft(): void;
}

export type PieceStore = StoreApi<PieceState> & {
  temporal: StoreApi<TemporalState<PieceDocument>>;
};

const MOST_UNDO_STEPS = 200;

export function createPieceStore(piece: PieceView): PieceStore {
  return createStore<PieceState>()(
    temporal(
      (set, get) => ({
        id: piece.id,
        name: piece.name,
        about: piece.about,
        recipe: piece.recipe,
        draft: null,
        change(edit) {
          const recipe = edit(get().recipe);
          if (!same(recipe, get().recipe)) set({ recipe, draft: null });
        },
        rename(name) {
          const trimmed = plainLine(name);
          if (trimmed && trimmed !== get().name) set({ name: trimmed });
        },
        describe(about) {
          const trimmed = plainLine(about);
          if (trimmed !== get().about) set({ about: trimmed });
        },
        preview(edit) {
          set({ draft: edit(get().draft ?? get().recipe) });
        },
        keepDraft() {
          const { draft, recipe } = get();
          if (draft && !same(draft, recipe)) set({ recipe: draft, draft: null });
          else set({ draft: null });
        },
        dropDraft() {
          set({ draft: null });
        },
      }),
      {
        limit: MOST_UNDO_STEPS,
        partialize: (state: PieceState): PieceDocument => documentOf(state),
        equality: isSameDocument,
      },
    ),
  );
}

export function documentOf({ name, about, recipe }: PieceDocument): PieceDocument {
  return { name, about, recipe };
}

export function isSameDocument(a: PieceDocument, b: PieceDocument): boolean {
  return a.name === b.name && a.about === b.about && a.recipe === b.recipe;
}

/** The recipe as it is shown: with what the hand is doing right now. */
export function shownRecipe(state: PieceState): Recipe {
  return state.draft ?? state.recipe;
}

function same(a: Recipe, b: Recipe): boolean {
  return JSON.stringify(a) === JSON.stringify(b);
}
