// @vitest-environment jsdom
import { act, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { describe, expect, it } from 'vitest';
import type { SeamPlace } from '../../seam/seam-work.js';
import { openedPiece, show } from '../../testing/screen.js';
import { PlacesSection } from './PlacesSection.js';

const place = (start: number, score: number, isMeasured: boolean): SeamPlace => ({
  ...{ start, end: start + 50, score, moves: 1, rank: score, isMeasured },
});

function opened() {
  const piece = openedPiece();
  const tell = (candidates: readonly SeamPlace[]) =>
    act(() =>
      piece.seams.setState({
        ...{ status: 'ready', found: { candidates, cuts: [], searchMs: 1 } as never },
        better: { advice: null, candidates, smoothness: null, flowLength: null },
      }),
    );
  tell([place(10, 80, false), place(100, 70, false)]);
  show(<PlacesSection />, piece);
  const rows = () =>
    [...screen.getByRole('list', { name: 'Places to join' }).querySelectorAll('button')].map(
      ({ textContent }) => textContent,
    );
  return { tell, rows };
}

describe('places to join', () => {
  it('have no score until it is measured, and are in order once all are', () => {
    const { tell, rows } = opened();
    expect(rows()).toEqual(['10 → 592.00 s…', '100 → 1492.00 s…']);
    expect(screen.queryByText(/No cut in this take goes unnoticed/)).toBeNull();
    tell([place(10, 44, true), place(100, 70, false)]);
    expect(rows()).toEqual(['10 → 592.00 s44', '100 → 1492.00 s…']);
    tell([place(10, 44, true), place(100, 87, true)]);
    expect(rows()).toEqual(['100 → 1492.00 s87', '10 → 592.00 s44']);
    expect(screen.getByText(/No cut in this take goes unnoticed/)).toBeDefined();
    tell([place(10, 44, true), place(100, 93, true)]);
    expect(screen.queryByText(/No cut in this take goes unnoticed/)).toBeNull();
  });

  it('do not change places under the pointer', async () => {
    const { tell, rows } = opened();
    const user = userEvent.setup();
    await user.hover(screen.getByRole('button', { name: /^10 → 59/ }));
    tell([place(10, 44, true), place(100, 87, true)]);
    expect(rows()).toEqual(['10 → 592.00 s44', '100 → 1492.00 s87']);
    await user.unhover(screen.getByRole('button', { name: /^10 → 59/ }));
    expect(rows()).toEqual(['100 → 1492.00 s87', '10 → 592.00 s44']);
    // Others are shown as they are found.
    await user.hover(screen.getByRole('button', { name: /^100 → 149/ }));
    tell([place(20, 50, true), place(60, 90, true)]);
    expect(rows()).toEqual(['60 → 1092.00 s90', '20 → 692.00 s50']);
  });
});
