import type { Rect } from '@muted-pond/core/pixels';
import { createPieceView } from '../../store/piece-view.js';
import { FREE } from './crop-edits.js';

/** How the crop is drawn; the crop itself is in the recipe. */
interface CropView {
  /** The id of the shape that the crop keeps while it is drawn. */
  readonly shape: string;
  /** The crop as it was last drawn or typed: trying one shape after the other starts from it each time. */
  readonly drawn: Rect | null;
}

export const useCropView = createPieceView<CropView>({ shape: FREE.id, drawn: null });

export function setCropView(part: Partial<CropView>): void {
  useCropView.setState(part);
}
