import { create, type StoreApi, type UseBoundStore } from 'zustand';

/** Puts a view back to how it begins. */
const resets = new Set<() => void>();

/**
 * A store of how the open piece is looked at in this window: what is chosen, which tool is in hand. It is never
 * saved or undone, and begins anew with each piece.
 * @param kept what stays from piece to piece, such as the size of a brush. Nothing that names a part of a piece.
 */
export function createPieceView<View extends object>(
  initial: View,
  kept: readonly (keyof View)[] = [],
): UseBoundStore<StoreApi<View>> {
  const useView = create<View>()(() => initial);
  resets.add(() => {
    const now = useView.getState();
    const stays = Object.fromEntries(kept.map((field) => [field, now[field]])) as Partial<View>;
    useView.setState({ ...initial, ...stays });
  });
  return useView;
}

/** To be called when a piece is left. */
export function resetPieceViews(): void {
  for (const reset of resets) reset();
}
