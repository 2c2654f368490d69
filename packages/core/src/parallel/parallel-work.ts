import { type DrawWork, startDrawing } from '../gif/index.js';
import { type MapWork, type PaletteWork, startMapping, startPalettes } from '../palette/index.js';
import { type StripWork, startSettling } from '../settle/index.js';
import { type SimilarityWork, startComparing } from '../weigh/index.js';

/** All work that threads share. */
export type ParallelWork = StripWork | PaletteWork | MapWork | DrawWork | SimilarityWork;

/** Makes a thread ready for work of any kind. */
export function startWork(work: ParallelWork): (part: number) => void {
  switch (work.kind) {
    case 'settle':
      return startSettling(work);
    case 'palettes':
      return startPalettes(work);
    case 'map':
      return startMapping(work);
    case 'draw':
      return startDrawing(work);
    case 'similarity':
      return startComparing(work);
  }
}
