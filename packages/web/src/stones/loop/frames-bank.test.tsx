// @vitest-environment jsdom

import { act, screen, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { beforeEach, describe, expect, it } from 'vitest';
import { loopNow } from '../../piece/piece-loop.js';
import { choosePlaces, useReelSelection } from '../../reel/reel-selection.js';
import type { SeamFound } from '../../seam/seam-work.js';
import { openedPiece, show, whyOff } from '../../testing/screen.js';
import { FramesBank } from './FramesBank.js';

beforeEach(() => choosePlaces([], []));

/** A reel of ten frames of a fifth of a second. */
function opened() {
  const piece = openedPiece((recipe) => ({
    ...recipe,
    span: { start: 0, end: 50 },
    weigh: { ...recipe.weigh, frameRate: 5 },
  }));
  show(<FramesBank />, piece);
  const loop = () => {
    const now = loopNow(piece);
    if (!now) throw new Error('There is no reel.');
    return now;
  };
  const choose = (...places: number[]) => act(() => choosePlaces(loop().items, places));
  return {
    ...{ piece, loop, choose },
    sources: () => loop().items.map(({ source }) => source),
    delays: () => loop().items.map(({ delayCs }) => delayCs),
    edits: () => piece.store.getState().recipe.loop.edits,
  };
}

const button = (name: string) => screen.getByRole('button', { name });
const click = (name: string) => userEvent.click(button(name));
async function enter(label: string, typed: string): Promise<void> {
  const field = screen.getByLabelText(label);
  await userEvent.clear(field);
  await userEvent.type(field, `${typed}{Enter}`);
}
const FIVES = Array.from({ length: 10 }, (_, i) => i * 5);

describe('chosen frames', () => {
  it('are all, every n-th, or those that were clicked', async () => {
    const { loop } = opened();
    expect(screen.getByText('No frame chosen')).toBeDefined();
    await click('All');
    expect(screen.getByText('10 of 10 chosen')).toBeDefined();
    await enter('Choose every so many', '3');
    act(() => choosePlaces(loop().items, [1]));
    await click('Every 3rd');
    expect(useReelSelection.getState().chosen.size).toBe(3);
    expect(screen.getByText('3 of 10 chosen')).toBeDefined();
  });

  it('are removed, doubled, turned round and moved, one undo step each', async () => {
    const { piece, choose, sources, edits } = opened();
    expect(sources()).toEqual(FIVES);
    choose(2, 3);
    await click('Reverse');
    expect(sources()).toEqual([0, 5, 15, 10, ...FIVES.slice(4)]);
    await click('Later');
    expect(sources().slice(2, 5)).toEqual([20, 15, 10]);
    await click('Duplicate');
    expect(sources()).toHaveLength(12);
    await click('Remove');
    expect(edits().map(({ kind }) => kind)).toEqual(['reverse', 'move', 'duplicate', 'remove']);
    const { undo } = piece.store.temporal.getState();
    for (let step = 0; step < 4; step++) act(() => undo());
    expect(sources()).toEqual(FIVES);
  });

  it('one alone has no order to turn round, and says so', async () => {
    const { choose, edits } = opened();
    choose(4);
    expect(whyOff(button('Reverse'))).toContain('two frames at least');
    await click('Reverse');
    expect(edits()).toEqual([]);
  });

  it('are shown for a time that is given in seconds or as a rate; set again, it replaces the one before', async () => {
    const { choose, delays, edits } = opened();
    choose(0);
    expect(screen.getByText('Hold it for')).toBeDefined();
    await enter('Show each for, seconds', '1.5');
    expect(delays()[0]).toBe(150);
    await enter('Show each for, frames a second', '4');
    expect(delays()[0]).toBe(25);
    expect(edits()).toHaveLength(1);
    await enter('Show each for, seconds', '0.001');
    expect(delays()[0]).toBe(25);
  });
});

describe('fewer frames', () => {
  it('keep the length', async () => {
    const { delays, sources } = opened();
    await enter('Keep every so many', '5');
    await click('Thin');
    expect(sources()).toEqual([0, 25]);
    expect(delays()).toEqual([100, 100]);
  });

  it('are not to be had of a reel that has too few', async () => {
    const { edits } = opened();
    await enter('Keep every so many', '10');
    expect(whyOff(button('Thin'))).toBe('The reel has 10 frames, too few to keep every 10th.');
    await click('Thin');
    expect(edits()).toEqual([]);
  });

  it('doubles and black ones are shown and removed, doubles with their time', async () => {
    const { piece, delays, sources } = opened();
    const found = { doubles: [3, 4], blacks: [9] } as unknown as SeamFound;
    act(() => piece.seams.setState({ status: 'ready', found, stale: false }));
    const row = (words: string) => screen.getByText(words).closest('div') as HTMLElement;
    const inRow = (words: string, name: string) => within(row(words)).getByRole('button', { name });
    await userEvent.click(inRow('nearly the same as before', 'Show'));
    expect(screen.getByText('2 of 10 chosen')).toBeDefined();
    await userEvent.click(inRow('nearly the same as before', 'Remove'));
    expect(sources()).toEqual(FIVES.filter((frame) => frame !== 15 && frame !== 20));
    expect(delays()[2]).toBe(60);
    // An answer of the reel before tells nothing of this one.
    act(() => piece.seams.setState({ stale: true }));
    expect(screen.queryByText('black')).toBeNull();
    act(() => piece.seams.setState({ stale: false, found: { doubles: [], blacks: [] } as never }));
    expect(screen.getByText('No doubles, no black frames.')).toBeDefined();
  });
});

describe('what was done by hand', () => {
  it('stands in a list, and the whole in the file as often as it is asked for', async () => {
    const { piece, choose, loop, edits } = opened();
    await enter('How often the whole stands in the file', '3');
    expect(loop().reel).toHaveLength(30);
    expect(screen.getByText('6.00 s')).toBeDefined();
    choose(1);
    await click('Remove');
    choose(0);
    await enter('Show each for, seconds', '1');
    expect(screen.getByText(/^2 changes, kept when the span/)).toBeDefined();
    expect(screen.queryByText(/no frame in this span/)).toBeNull();
    act(() => piece.store.getState().change((recipe) => ({ ...recipe, span: { start: 5, end: 55 } })));
    // The frame that was held lies before the span now.
    expect(screen.getByText(/One finds/).textContent).toContain('held or retimed: frame 0');
    await click('Forget it');
    expect(edits().map(({ kind }) => kind)).toEqual(['remove']);
    await click('Drop all');
    expect(edits()).toEqual([]);
    expect(screen.queryByText('Done by hand')).toBeNull();
  });
});
