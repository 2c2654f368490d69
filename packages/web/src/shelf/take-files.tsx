import { modals } from '@mantine/modals';
import type { FootageView, NewPiece, PieceView } from '@muted-pond/core/api';
import { createPiece } from '../api/queries.js';
import { tellProblem } from '../ui/notify.js';
import { planPieces } from './plan-pieces.js';
import { bringIn } from './uploads-store.js';

/**
 * Brings files in and makes their pieces. What is refused is said in the list of uploads, and the rest goes
 * on.
 * @returns the pieces that were made.
 */
export async function takeFiles(files: readonly File[]): Promise<PieceView[]> {
  const brought = (await Promise.all(files.map((file) => bringIn(file)))).filter(
    (view): view is FootageView => view !== null,
  );
  if (brought.length === 0) return [];
  const plan = planPieces(brought);
  const wanted = plan.bySeries ? await askForSeries(plan.pieces, plan.bySeries) : plan.pieces;
  return createPieces(wanted);
}

async function createPieces(wanted: readonly NewPiece[]): Promise<PieceView[]> {
  const made: PieceView[] = [];
  for (const piece of wanted) {
    const view = await createPiece(piece).catch(tellProblem);
    if (view) made.push(view);
  }
  return made;
}

/** Only when it is unclear: all pictures in one piece, or a piece from each series of names. */
function askForSeries(
  together: readonly NewPiece[],
  bySeries: readonly NewPiece[],
): Promise<readonly NewPiece[]> {
  const series = bySeries.filter((piece) => piece.stills);
  return new Promise((resolve) => {
    modals.openConfirmModal({
      title: 'One piece, or several?',
      children: `The pictures’ names fall into ${series.length} series: ${series.map((piece) => `“${piece.name}” (${piece.stills?.length})`).join(', ')}.`,
      labels: { confirm: `${series.length} pieces, one from each series`, cancel: 'One piece from all' },
      confirmProps: { color: 'deep.8' },
      withCloseButton: false,
      closeOnClickOutside: false,
      closeOnEscape: false,
      onConfirm: () => resolve(bySeries),
      onCancel: () => resolve(together),
    });
  });
}
