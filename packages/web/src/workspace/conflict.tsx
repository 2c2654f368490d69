import { modals } from '@mantine/modals';
import type { PieceView } from '@muted-pond/core/api';
import { sourceHashes } from '@muted-pond/core/recipe';
import type { Workspace } from '../piece/workspace-context.js';
import { tellProblem } from '../ui/notify.js';

/** Two windows changed one piece. Nothing is lost until one of them is chosen. */
export function openConflict({ autosave, files }: Workspace, theirs: PieceView): void {
  modals.openConfirmModal({
    title: 'This piece was changed in another window',
    children: `There it was last saved on ${new Date(theirs.updatedAt).toLocaleString()} as “${theirs.name}”. Which one stays? The other one can be had back by undo in its own window.`,
    labels: { confirm: 'Keep what is here', cancel: 'Take the other one' },
    confirmProps: { color: 'deep.8' },
    onConfirm: () => void autosave.keepMine(),
    // The other recipe may name files that are not known here yet.
    onCancel: () =>
      void files
        .ensure(sourceHashes(theirs.recipe))
        .then(() => autosave.takeTheirs())
        .catch(tellProblem),
    closeOnClickOutside: false,
    withCloseButton: false,
    closeOnEscape: false,
  });
}
