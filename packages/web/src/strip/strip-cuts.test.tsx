// @vitest-environment jsdom
import { act, screen } from '@testing-library/react';
import { describe, expect, it } from 'vitest';
import type { SeamFound } from '../seam/seam-work.js';
import { openedPiece, show } from '../testing/screen.js';
import { Strip } from './Strip.js';

const FOUND: SeamFound = {
  ...{ id: 1, candidates: [], cuts: [], doubles: [], blacks: [] },
  ...{ plate: null, calm: null, searchMs: 0 },
};

describe('the strip of footage that is cut', () => {
  it('says how many scenes there are, and marks where each begins', () => {
    const piece = openedPiece();
    show(<Strip />, piece);
    expect(screen.queryAllByTestId('cut')).toHaveLength(0);
    expect(screen.queryByText(/scenes/)).toBeNull();
    act(() => piece.seams.setState({ found: { ...FOUND, cuts: [50, 125] } }));
    const [first, second] = screen.getAllByTestId('cut');
    expect(first.title).toContain('Another scene begins here, at 00:02');
    expect(second.title).toContain('00:05');
    expect(second.style.left).toBe('50%');
    expect(screen.getByText(/3 scenes/)).toBeTruthy();
  });
});
