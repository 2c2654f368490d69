import { modals } from '@mantine/modals';
import type { PieceView } from '@muted-pond/core/api';
import type { Autosave } from '../store/autosave.js';

/** Two windows changed one piece. Nothing is lost until one of them is chosen. */
export function openConflict(autosave: Autosave, theirs: PieceView): void {
  modals.openConfirmModal({
    title: 'This piece was changed in another window',
    children: `There it was last saved on ${new Date(theirs.updatedAt).toLocaleString()} as “${theirs.name}”. Which one stays? The other one can be had back by undo in its own window.`,
    labels: { confirm: 'Keep what is here', cancel: 'Take the other one' },
    confirmProps: { color: 'deep.8' },
    onConfirm: () => void autosave.keepMine(),
    onCancel: () => autosave.takeTheirs(),
    closeOnClickOutside: false,
    withCloseButton: false,
    closeOnEscape: false,
  });
}
