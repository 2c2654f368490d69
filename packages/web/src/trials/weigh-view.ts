import { createPieceView } from '../store/piece-view.js';

export type Compare = 'alone' | 'wipe' | 'pair';

/** How files are looked at. */
interface WeighView {
  /** The file fills the stage, or is shown pixel for pixel. */
  readonly view: 'fit' | 'real';
  /** At its own pace, or as viewers play it that draw short delays out. */
  readonly pace: 'own' | 'drawn-out';
  readonly compare: Compare;
  /** What the shown file is compared with: the frames it was made from, or another trial by its id. */
  readonly against: 'source' | string;
  /** Where the wipe's line stands, share of the width. */
  readonly wipeAt: number;
  /** A key is held: the other one is shown. */
  readonly other: boolean;
  /** A colour of the file whose pixels are shown. */
  readonly pointed: string | null;
  readonly chart: 'frames' | 'likeness';
  /** The stone from which one came to fit a file, and to which a click goes back. */
  readonly cameFrom: 'send' | null;
}

export const useWeighView = createPieceView<WeighView>(
  {
    view: 'fit',
    pace: 'own',
    compare: 'alone',
    against: 'source',
    wipeAt: 0.5,
    other: false,
    pointed: null,
    chart: 'frames',
    cameFrom: null,
  },
  ['view', 'chart'],
);

export function setWeighView(part: Partial<WeighView>): void {
  useWeighView.setState(part);
}
