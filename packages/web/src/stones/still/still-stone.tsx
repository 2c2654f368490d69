import { useStore } from 'zustand';
import { useWorkspace } from '../../piece/workspace-context.js';
import type { Stone } from '../../stone/stone.js';
import { shownRecipe } from '../../store/piece-store.js';

export const stillStone: Stone = {
  id: 'still',
  name: 'Still',
  Value: StillValue,
  load: () => import('./still-screen.js'),
};

function StillValue() {
  const { store } = useWorkspace();
  const { plate, ripples } = useStore(store, (state) => shownRecipe(state).still);
  if (!plate) return 'all moves';
  const shown = ripples.filter((ripple) => ripple.shown).length;
  if (shown === 0) return 'all held';
  return shown === 1 ? '1 ripple' : `${shown} ripples`;
}
