import { createPieceView } from '../../store/piece-view.js';

export const GROUNDS = ['white', 'dark', 'checkerboard'] as const;
export type Ground = (typeof GROUNDS)[number];

/** Megabits a second; 0 waits for nothing. */
export const NETWORKS = [0, 1, 3, 10] as const;
export type Network = (typeof NETWORKS)[number];

/** How the page and the files are looked at. */
interface SendView {
  readonly ground: Ground;
  readonly width: 'real' | 'phone';
  readonly network: Network;
  /** Ids of trials that are looked at side by side. */
  readonly beside: readonly string[];
  readonly stage: 'page' | 'beside';
}

export const useSendView = createPieceView<SendView>(
  { ground: 'white', width: 'real', network: 0, beside: [], stage: 'page' },
  ['ground', 'width', 'network'],
);

export function setSendView(part: Partial<SendView>): void {
  useSendView.setState(part);
}
