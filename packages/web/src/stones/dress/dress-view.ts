import type { BrushLook } from '../../paint/PaintGround.js';
import { createPieceView } from '../../store/piece-view.js';
import type { LookPictures } from '../../workers/composed-pictures.js';

export const DRESS_TABS = ['colour', 'captions', 'edge', 'veils'] as const;
export type DressTab = (typeof DRESS_TABS)[number];

/** How the dress is looked at. */
export interface DressView {
  readonly tab: DressTab;
  /** The picture without its dress. */
  readonly bare: boolean;
  /** The caption, emblem or veil that hands act on. */
  readonly chosen: string | null;
  /** The caption whose words are typed on the picture. */
  readonly typing: string | null;
  /** Whether hands paint a veil. */
  readonly paints: boolean;
  readonly brush: BrushLook;
  /** This loop in each look. */
  readonly looks: LookPictures | null;
}

export const useDressView = createPieceView<DressView>(
  {
    tab: 'colour',
    bare: false,
    chosen: null,
    typing: null,
    paints: false,
    brush: { size: 80, softness: 0.1, way: 'stir' },
    looks: null,
  },
  ['brush'],
);

export const setDressView = (part: Partial<DressView>) => useDressView.setState(part);

/** Shows other small pictures; those before are closed when the screen has taken these. */
export function showLooks(looks: LookPictures | null): void {
  const before = useDressView.getState().looks;
  setDressView({ looks });
  if (before) closeLooks(before);
}

export function closeLooks(looks: LookPictures): void {
  for (const picture of Object.values(looks)) picture.close();
}
