import { spanSeconds } from '@muted-pond/core/timing';
import { useStore } from 'zustand';
import { useTake } from '../../piece/piece-take.js';
import { useWorkspace } from '../../piece/workspace-context.js';
import type { Stone } from '../../stone/stone.js';
import { shownRecipe } from '../../store/piece-store.js';
import { formatSeconds } from '../../ui/format.js';

export const cutStone: Stone = {
  id: 'cut',
  name: 'Cut',
  Value: CutValue,
  load: () => import('./cut-screen.js'),
};

function CutValue() {
  const { store } = useWorkspace();
  const { times } = useTake();
  const span = useStore(store, (state) => shownRecipe(state).span);
  return formatSeconds(spanSeconds(times, span));
}
