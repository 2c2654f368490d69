// @vitest-environment jsdom
import type { SavingsView, TrialFigures } from '@muted-pond/core/api';
import { savingsKey } from '@muted-pond/core/derived';
import { QUALITIES } from '@muted-pond/core/files';
import { changeWeigh, type Recipe, type WeighChange } from '@muted-pond/core/recipe';
import { act, screen, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { describe, expect, it } from 'vitest';
import { keys } from '../../api/queries.js';
import { openedPiece, show, whyOff } from '../../testing/screen.js';
import { GifFields } from './kinds/GifFields.js';
import { NotesSection } from './NotesSection.js';
import { PaletteSection } from './PaletteSection.js';

const FIGURES: TrialFigures = {
  kind: 'gif',
  ...{ bytes: 100_000, width: 480, height: 270, frames: 25, durationMs: 1000, colors: 3, likeness: 0.97 },
  ...{ steady: null, frameBytes: [60_000, ...Array(24).fill(1600)], palettes: 1 },
  ...{ palette: ['#102030', '#aabbcc', '#ffffff'], paletteShares: [0.2, 0.7, 0.1] },
  ms: { decode: 1, compose: 1, encode: 1, total: 3 },
};

describe('what only a GIF has to be told', () => {
  it('changes the settings of the GIF and of nothing else', async () => {
    const piece = openedPiece();
    const before = piece.store.getState().recipe.weigh;
    show(<GifFields />, piece);
    await userEvent.click(screen.getByLabelText('Small'));
    const { weigh } = piece.store.getState().recipe;
    expect(weigh).toEqual({ ...before, gif: { ...before.gif, ...QUALITIES.small } });
  });

  it('asks for a strength only where there is a dither', async () => {
    const piece = openedPiece();
    show(<GifFields />, piece);
    expect(screen.getByRole('slider', { name: 'Strength' })).toBeDefined();
    await userEvent.click(screen.getByRole('combobox', { name: 'Dither' }));
    await userEvent.click(await screen.findByRole('option', { name: 'None' }));
    expect(piece.store.getState().recipe.weigh.gif.dither).toBe('none');
    expect(screen.queryByRole('slider', { name: 'Strength' })).toBeNull();
  });
});

describe('the palette', () => {
  it('stands by share, the commonest first', () => {
    show(<PaletteSection figures={FIGURES} />, openedPiece());
    const colours = within(screen.getByRole('group')).getAllByRole('button');
    expect(colours.map((one) => one.getAttribute('aria-label'))).toEqual(['#aabbcc', '#102030', '#ffffff']);
  });

  it('a colour is kept for certain, then dropped, then released', async () => {
    const piece = openedPiece();
    const chosen = () => {
      const { kept, dropped } = piece.store.getState().recipe.weigh.gif;
      return { kept, dropped };
    };
    show(<PaletteSection figures={FIGURES} />, piece);
    await userEvent.click(screen.getByRole('button', { name: '#aabbcc' }));
    await userEvent.click(screen.getByRole('button', { name: 'Keep for certain' }));
    expect(chosen()).toEqual({ kept: ['#aabbcc'], dropped: [] });
    await userEvent.click(screen.getByRole('button', { name: 'Drop' }));
    expect(chosen()).toEqual({ kept: [], dropped: ['#aabbcc'] });
    await userEvent.click(screen.getByRole('button', { name: 'Dropped: #aabbcc. Release it' }));
    expect(chosen()).toEqual({ kept: [], dropped: [] });
  });

  it('takes a colour from elsewhere, and only a whole one', async () => {
    const piece = openedPiece();
    show(<PaletteSection figures={FIGURES} />, piece);
    const keep = screen.getByRole<HTMLButtonElement>('button', { name: 'Keep it' });
    await userEvent.type(screen.getByLabelText('A colour to keep'), '#1f8a7');
    expect(whyOff(keep)).toMatch(/^Type a colour as six digits first/);
    await userEvent.type(screen.getByLabelText('A colour to keep'), '0');
    await userEvent.click(keep);
    expect(piece.store.getState().recipe.weigh.gif.kept).toEqual(['#1f8a70']);
  });
});

describe('notes on the file', () => {
  it('come with a remedy that a click takes', async () => {
    const piece = openedPiece((recipe) => ({
      ...recipe,
      plays: 2,
      weigh: { ...recipe.weigh, frameRate: 25 },
    }));
    show(<NotesSection figures={FIGURES} />, piece);
    expect(screen.getByText(/The first frame is 60 KB, 60 % of it/)).toBeDefined();
    await userEvent.click(screen.getByRole('button', { name: 'Half the frames, twice the delay' }));
    expect(piece.store.getState().recipe.weigh.frameRate).toBe(12);
    await userEvent.click(screen.getByRole('button', { name: 'Play without end' }));
    expect(piece.store.getState().recipe.plays).toBe(0);
  });

  it('what would help is of the piece as it is: another change hides it, one that was taken does not', async () => {
    const piece = openedPiece();
    const { recipe } = piece.store.getState();
    const weighed = (change: WeighChange): Recipe => ({
      ...recipe,
      weigh: changeWeigh(recipe.weigh, change),
    });
    const saving = { kind: 'narrower' as const, recipe: weighed({ width: 300 }), bytes: 60_000 };
    const view: SavingsView = {
      ...{ piece: 'piece', key: savingsKey(recipe, 'settings'), of: 'settings', state: 'done', done: 1 },
      ...{ doing: '', bytes: 100_000, savings: [saving], problem: null, revision: 1 },
    };
    const { client } = show(<NotesSection figures={FIGURES} />, piece);
    act(() => void client.setQueryData(keys.savings('piece', 'settings'), view));
    await userEvent.click(await screen.findByRole('button', { name: '300 px wide' }));
    expect(piece.store.getState().recipe.weigh.width).toBe(300);
    expect(screen.getByRole('list', { name: 'What would help' })).toBeDefined();
    // What would have been lost by taking it now: the saving’s own recipe plays without end.
    act(() => piece.store.getState().change((one) => ({ ...one, plays: 2 })));
    expect(screen.queryByRole('list', { name: 'What would help' })).toBeNull();
    expect(screen.getByRole('button', { name: 'Try what would help' })).toBeDefined();
    act(() => piece.store.temporal.getState().undo());
    expect(screen.getByRole('list', { name: 'What would help' })).toBeDefined();
  });

  it('are not there before a file is', () => {
    show(<NotesSection figures={null} />, openedPiece());
    expect(screen.queryByText('Notes')).toBeNull();
  });
});
