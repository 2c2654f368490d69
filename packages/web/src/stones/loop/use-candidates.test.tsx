// @vitest-environment jsdom

import { type JoinSettings, PLAIN_CUT } from '@muted-pond/core/loop';
import { act, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { describe, expect, it } from 'vitest';
import type { SeamPlace } from '../../seam/seam-work.js';
import { openedPiece, show } from '../../testing/screen.js';
import { PlacesSection } from './PlacesSection.js';

const place = (
  start: number,
  score: number,
  isMeasured: boolean,
  join: JoinSettings = PLAIN_CUT,
): SeamPlace => ({
  ...{ start, end: start + 50, score, moves: 1, rank: score, isMeasured, join },
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
  return { tell, rows, piece };
}

describe('places to join', () => {
  it('have no score until it is measured, and are in order once all are', () => {
    const { tell, rows } = opened();
    expect(rows()).toEqual(['10 → 592.00 sCut…', '100 → 1492.00 sCut…']);
    expect(screen.queryByText(/No cut in this take goes unnoticed/)).toBeNull();
    tell([place(10, 44, true), place(100, 70, false)]);
    expect(rows()).toEqual(['10 → 592.00 sCut44', '100 → 1492.00 sCut…']);
    tell([place(10, 44, true), place(100, 87, true)]);
    expect(rows()).toEqual(['100 → 1492.00 sCut87', '10 → 592.00 sCut44']);
    expect(screen.getByText(/No cut in this take goes unnoticed/)).toBeDefined();
    tell([place(10, 44, true), place(100, 93, true)]);
    expect(screen.queryByText(/No cut in this take goes unnoticed/)).toBeNull();
  });

  it('do not change places under the pointer', async () => {
    const { tell, rows } = opened();
    const user = userEvent.setup();
    await user.hover(screen.getByRole('button', { name: /^10 → 59/ }));
    tell([place(10, 44, true), place(100, 87, true)]);
    expect(rows()).toEqual(['10 → 592.00 sCut44', '100 → 1492.00 sCut87']);
    await user.unhover(screen.getByRole('button', { name: /^10 → 59/ }));
    expect(rows()).toEqual(['100 → 1492.00 sCut87', '10 → 592.00 sCut44']);
    // Others are shown as they are found.
    await user.hover(screen.getByRole('button', { name: /^100 → 149/ }));
    tell([place(20, 50, true), place(60, 90, true)]);
    expect(rows()).toEqual(['60 → 1092.00 sCut90', '20 → 692.00 sCut50']);
  });

  it('say what they are joined by, and taking one brings it along in one step', async () => {
    const { tell, rows, piece } = opened();
    const user = userEvent.setup();
    const flowed = { kind: 'flowed', frames: 9 } as const;
    await user.hover(screen.getByRole('button', { name: /^10 → 59/ }));
    // One that is found later does not move the others either.
    tell([place(10, 44, true), place(100, 87, true), place(40, 95, true, flowed)]);
    expect(rows()).toEqual(['10 → 592.00 sCut44', '100 → 1492.00 sCut87', '40 → 892.00 sFlowed 995']);
    const before = piece.store.getState().recipe;
    await user.click(screen.getByRole('button', { name: /^40 → 89/ }));
    const { recipe } = piece.store.getState();
    expect([recipe.span, recipe.loop.join]).toEqual([{ start: 40, end: 90 }, flowed]);
    act(() => piece.store.temporal.getState().undo());
    expect(piece.store.getState().recipe).toEqual(before);
  });
});
