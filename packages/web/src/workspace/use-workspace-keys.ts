import { useHotkeys, useWindowEvent } from '@mantine/hooks';
import { useNavigate } from 'react-router';
import { stepFrames } from '../piece/span-edits.js';
import { useWorkspace } from '../piece/workspace-context.js';
import { STONES } from '../stones/index.js';
import { showKeys } from './key-list.js';

/**
 * The keys that work on every stone. Whatever has an effect that is seen on some stones only is added by what
 * shows it.
 */
export function useWorkspaceKeys(): void {
  const workspace = useWorkspace();
  const navigate = useNavigate();
  const { session, store, pieceId } = workspace;
  const play = (event: KeyboardEvent) => {
    // A button that was clicked keeps the focus, but Space is for playing then; one reached by key uses it.
    if (isFor(event, 'button:focus-visible, [role=combobox], [role=option]')) return;
    event.preventDefault();
    session.getState().setPlaying(!session.getState().playing);
  };
  const step = (by: number) => (event: KeyboardEvent) => {
    if (isFor(event, OWN_ARROWS)) return;
    event.preventDefault();
    stepFrames(workspace, by);
  };
  // What was chosen with the pointer lets go of the keys: ← and → are for frames then.
  useWindowEvent('click', (event) => {
    const focused = document.activeElement;
    if (event.detail > 0 && focused instanceof HTMLInputElement && /radio|checkbox/.test(focused.type))
      focused.blur();
  });
  const ownWay = { preventDefault: false };
  useHotkeys([
    ['space', play, ownWay],
    ['ArrowLeft', step(-1), ownWay],
    ['ArrowRight', step(1), ownWay],
    ['shift+ArrowLeft', step(-10), ownWay],
    ['shift+ArrowRight', step(10), ownWay],
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

/**
 * Controls that move by arrow keys themselves: sliders, lists, the crop and its handles, pictures that can be
 * moved.
 */
const OWN_ARROWS =
  '[role=slider], [role=combobox], [role=option], [role=menuitem], [role=radio], .ReactCrop__crop-selection, [aria-roledescription=sortable], [data-own-arrows]';

/** Whether the key belongs to a control that has the focus and a use of its own for it. */
function isFor(event: KeyboardEvent, controls: string): boolean {
  return event.target instanceof Element && event.target.closest(controls) !== null;
}
