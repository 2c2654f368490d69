import type { Rect } from '@muted-pond/core/pixels';
import { create } from 'zustand';
import { FREE } from './crop-edits.js';

interface CropShapeState {
  /** The id of the shape that the crop keeps while it is drawn. */
  readonly shape: string;
  /** The crop as it was last drawn or typed: trying one shape after the other starts from it each time. */
  readonly drawn: Rect | null;
  choose(shape: string): void;
  remember(drawn: Rect | null): void;
}

/** Of this window only: the crop itself is in the recipe. */
export const useCropShape = create<CropShapeState>()((set) => ({
  shape: FREE.id,
  drawn: null,
  choose: (shape) => set({ shape }),
  remember: (drawn) => set({ drawn }),
}));
