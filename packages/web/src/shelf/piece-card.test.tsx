// @vitest-environment jsdom
import type { PieceView, TrialView } from '@muted-pond/core/api';
import { newStillsRecipe } from '@muted-pond/core/recipe';
import { screen } from '@testing-library/react';
import { describe, expect, it, vi } from 'vitest';
import { show } from '../testing/screen.js';
import { PieceCard } from './PieceCard.js';

const picture = {
  hash: 'b'.repeat(64),
  size: { width: 80, height: 60 },
  times: { starts: [0], duration: 1 },
};
const piece = {
  ...{ id: 'p', name: 'Autumn menu', revision: 1 },
  recipe: newStillsRecipe([picture, { ...picture, hash: 'c'.repeat(64) }]),
} as PieceView;
const trial = (part: Partial<TrialView>) =>
  ({
    id: 't',
    piece: 'p',
    letter: 'A',
    state: 'waiting',
    figures: null,
    progress: null,
    ...part,
  }) as TrialView;

function card(shown: TrialView | null) {
  const told = { onRename: vi.fn(), onDuplicate: vi.fn(), onDelete: vi.fn() };
  return { told, ...show(<PieceCard piece={piece} trial={shown} {...told} />) };
}

describe('a card of the shelf', () => {
  it('plays the finished file and says its true weight', () => {
    const figures = { bytes: 123_456 } as TrialView['figures'];
    const { container } = card(trial({ state: 'done', figures }));
    expect(container.querySelector('img')?.getAttribute('src')).toContain('/api/trials/t/file');
    expect(screen.getByText('123 KB').title).toBe('123456 bytes');
  });

  it('plays a movie as one, and of many frames shows the first', () => {
    const of = (kind: string) => ({ bytes: 1, kind, width: 8, height: 6 }) as TrialView['figures'];
    const movie = card(
      trial({ state: 'done', shownAs: 'movie', figures: of('webm') }),
    ).container.querySelector('video');
    expect(movie?.getAttribute('src')).toContain('/api/trials/t/file');
    expect([movie?.loop, movie?.autoplay, movie?.hasAttribute('controls')]).toEqual([true, true, false]);
    const { container } = card(trial({ state: 'done', shownAs: 'list', figures: of('frames') }));
    expect(container.querySelector('img')?.getAttribute('src')).toBe('/api/trials/t/pictures/0');
  });

  it('shows how far a file is that is being made, and no weight', () => {
    card(trial({ state: 'working', progress: { done: 0.42, doing: 'laying colours' } }));
    expect(screen.getByText('made to 42 %')).toBeDefined();
    expect(screen.getByRole('progressbar').getAttribute('aria-valuenow')).toBe('42');
    expect(screen.queryByText(/KB/)).toBeNull();
  });

  it('that waits says so; one without a file says nothing', () => {
    card(trial({ progress: { done: 0, doing: 'waiting for its turn' } }));
    expect(screen.getByText('waits its turn')).toBeDefined();
    card(null);
    expect(screen.queryByText('waits its turn')).toBeNull();
    expect(screen.queryByText('—')).toBeNull();
  });

  it('tells what it is made from and how long it lasts', async () => {
    card(null);
    expect(await screen.findByText(/2 pictures · 4\.00 s/)).toBeDefined();
  });
});
