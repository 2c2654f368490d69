import type { PieceView } from '@muted-pond/core/api';
import type { Recipe } from '@muted-pond/core/recipe';
import { type TemporalState, temporal } from 'zundo';
import { createStore, type StoreApi } from 'zustand';

/** The part of a piece that is saved and undone. */
export interface PieceDocument {
  readonly name: string;
  readonly recipe: Recipe;
}

export interface PieceState extends PieceDocument {
  readonly id: string;
  /** While a handle is dragged: the recipe as it would be. Never saved, never an undo step. */
  readonly draft: Recipe | null;
  /** One undo step. */
  change(edit: (recipe: Recipe) => Recipe): void;
  rename(name: string): void;
  /** Shows a change while the hand is still down. */
  preview(edit: (recipe: Recipe) => Recipe): void;
  /** The hand is up: what was previewed becomes one undo step. */
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
        recipe: piece.recipe,
        draft: null,
        change(edit) {
          const recipe = edit(get().recipe);
          if (!same(recipe, get().recipe)) set({ recipe, draft: null });
        },
        rename(name) {
          const trimmed = name.trim();
          if (trimmed && trimmed !== get().name) set({ name: trimmed });
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
        partialize: ({ name, recipe }): PieceDocument => ({ name, recipe }),
        equality: (a, b) => a.name === b.name && a.recipe === b.recipe,
      },
    ),
  );
}

/** The recipe as it is shown: with what the hand is doing right now. */
export function shownRecipe(state: PieceState): Recipe {
  return state.draft ?? state.recipe;
}

function same(a: Recipe, b: Recipe): boolean {
  return JSON.stringify(a) === JSON.stringify(b);
}
