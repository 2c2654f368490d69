import { useStore } from 'zustand';
import { useWorkspace } from '../../piece/workspace-context.js';
import type { Stone } from '../../stone/stone.js';
import { shownRecipe } from '../../store/piece-store.js';
import { dressWords } from './dress-words.js';

export const dressStone: Stone = {
  id: 'dress',
  name: 'Dress',
  Value: DressValue,
  load: () => import('./dress-screen.js'),
};

function DressValue() {
  const { store } = useWorkspace();
  return useStore(store, (state) => dressWords(shownRecipe(state).dress));
}
