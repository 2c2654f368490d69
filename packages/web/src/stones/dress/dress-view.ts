import { create } from 'zustand';
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
  /** This loop in each look. */
  readonly looks: LookPictures | null;
}

export const useDressView = create<DressView>(() => ({
  tab: 'colour',
  bare: false,
  chosen: null,
  looks: null,
}));

export const setDressView = (part: Partial<DressView>) => useDressView.setState(part);
