import { useHotkeys } from '@mantine/hooks';
import { useNavigate } from 'react-router';
import { STONES } from '../stones/index.js';
import { showKeys } from './key-list.js';
import { endHere, startHere, stepFrames } from './span-edits.js';
import { useWorkspace } from './workspace-context.js';

/** The keys of product.md that work on every stone. Stones add their own. */
export function useWorkspaceKeys(): void {
  const workspace = useWorkspace();
  const navigate = useNavigate();
  const { session, store, pieceId } = workspace;
  useHotkeys([
    ['space', () => session.getState().setPlaying(!session.getState().playing)],
    ['ArrowLeft', () => stepFrames(workspace, -1)],
    ['ArrowRight', () => stepFrames(workspace, 1)],
    ['shift+ArrowLeft', () => stepFrames(workspace, -10)],
    ['shift+ArrowRight', () => stepFrames(workspace, 10)],
    ['S', () => startHere(workspace)],
    ['E', () => endHere(workspace)],
    ['mod+Z', () => store.temporal.getState().undo()],
    ['mod+shift+Z', () => store.temporal.getState().redo()],
    ['mod+Y', () => store.temporal.getState().redo()],
    ['shift+?', showKeys],
    ['?', showKeys],
    ...STONES.map((stone, index): [string, () => void] => [
      String(index + 1),
      () => navigate(`/pieces/${pieceId}/${stone.id}`),
    ]),
  ]);
}
