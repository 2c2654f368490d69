import { describe, expect, it } from 'vitest';
import { createPieceView, resetPieceViews } from './piece-view.js';

interface View {
  readonly chosen: string | null;
  readonly size: number;
}
const START: View = { chosen: null, size: 10 };

describe('how a piece is looked at', () => {
  it('begins anew when the piece is left, but for what is kept from piece to piece', () => {
    const useView = createPieceView<View>(START, ['size']);
    useView.setState({ chosen: 'caption 1', size: 40 });
    resetPieceViews();
    expect(useView.getState()).toEqual({ chosen: null, size: 40 });
  });

  it('is one store for each part of the screen, and whoever follows it is told', () => {
    const [one, other] = [createPieceView<View>(START), createPieceView<View>(START)];
    const told: View[] = [];
    other.subscribe((view) => told.push(view));
    one.setState({ size: 3 });
    expect(other.getState()).toEqual(START);
    other.setState({ chosen: 'veil 2' });
    resetPieceViews();
    expect(told).toEqual([{ chosen: 'veil 2', size: 10 }, START]);
    expect(one.getState()).toEqual(START);
  });
});
