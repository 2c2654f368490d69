import { create } from 'zustand';
import type { BrushLook } from '../../paint/PaintGround.js';
import type { LookPictures } from '../../workers/composed-pictures.js';

export const DRESS_TABS = ['colour', 'captions', 'edge', 'veils'] as const;
export type DressTab = (typeof DRESS_TABS)[number];

/** What is looked at on this stone; never saved. */
export interface DressView {
  readonly tab: DressTab;
  /** The picture without its dress. */
  readonly bare: boolean;
  /** The caption, emblem or veil that hands act on. */
  readonly chosen: string | null;
  /** Whether hands paint a veil. */
  readonly paints: boolean;
  readonly brush: BrushLook;
  /** This loop in each look. */
  readonly looks: LookPictures | null;
}

export const useDressView = create<DressView>(() => ({
  tab: 'colour',
  bare: false,
  chosen: null,
  paints: false,
  brush: { size: 80, softness: 0.1, way: 'stir' },
  looks: null,
}));

export const setDressView = (part: Partial<DressView>) => useDressView.setState(part);
