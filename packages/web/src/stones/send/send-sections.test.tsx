// @vitest-environment jsdom
import type { HostPageView, HostView, PlaceView, SendingItem, TrialView } from '@muted-pond/core/api';
import { fileKey } from '@muted-pond/core/derived';
import { type FileKindId, fileKind } from '@muted-pond/core/files';
import { changeWeigh } from '@muted-pond/core/recipe';
import { act, screen, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import type { ReactNode } from 'react';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import { SHIPPED_LIMITS } from '../../../../core/src/testing/shipped-limits.js';
import { keys } from '../../api/queries.js';
import type { Workspace } from '../../piece/workspace-context.js';
import { resetPieceViews } from '../../store/piece-view.js';
import { openedPiece, show, whyOff } from '../../testing/screen.js';
import { BesideSection } from './BesideSection.js';
import { FilesSection } from './FilesSection.js';
import { KindsLedger } from './KindsLedger.js';
import { PageSection } from './PageSection.js';
import { PlacesSection } from './PlacesSection.js';
import { setSendHabits } from './send-habits.js';
import { shownFile } from './shown-file.js';

// There is no canvas to draw a chart on here.
vi.mock('../../trials/LikenessChart.js', () => ({ LikenessChart: () => null }));

beforeEach(() => {
  localStorage.clear();
  setSendHabits({ pattern: '{piece} {width}px', way: null, left: [], places: [], fits: false });
  resetPieceViews();
});

/** A finished trial of the piece's own settings in a kind of file. */
function trialOf(piece: Workspace, kind: FileKindId, bytes: number, ordinal: number): TrialView {
  const { recipe: present } = piece.store.getState();
  const recipe = { ...present, weigh: changeWeigh(present.weigh, { kind }) };
  return {
    ...{ recipe, key: fileKey(recipe), shownAs: fileKind(kind).shownAs },
    ...{ id: `trial-${kind}`, piece: piece.pieceId, letter: String.fromCharCode(65 + ordinal), name: null },
    ...{ pinned: false, state: 'done', problem: null, progress: null, createdAt: '', revision: 1 },
    seen: { width: 480, value: 0.97 },
    figures: {
      ...{ kind, bytes, width: 480, height: 270, frames: 36, durationMs: 3000, colors: null, likeness: 0.97 },
      ...{ steady: null, palette: [], frameBytes: Array(36).fill(bytes / 40), hasAlpha: false },
      ms: { decode: 1, compose: 1, encode: 1, total: 3 },
    },
  };
}

const PAGE: HostPageView = {
  ...{ id: 'abc', place: 'blog-column', placeName: 'Blog column', title: 'Steam', about: '', isDown: false },
  ...{
    page: 'http://localhost:4174/p/abc',
    direct: 'http://localhost:4174/f/abc',
    embed: '<iframe></iframe>',
  },
  ...{ mime: 'image/gif', bytes: 1000, width: 480, height: 270, note: null, createdAt: '', updatedAt: '' },
};

const placesOf = (moods: Partial<Record<string, PlaceView['mood']>> = {}): PlaceView[] =>
  SHIPPED_LIMITS.map((limit) => ({ ...limit, mood: moods[limit.id] ?? 'fair' }));

/** Shows a part of Send for a piece of which some kinds are made. */
function showSend(
  what: ReactNode,
  kinds: readonly (readonly [FileKindId, number])[],
  { host, items }: { host?: HostView; items?: readonly SendingItem[] } = {},
) {
  const piece = openedPiece();
  const trials = kinds.map(([kind, bytes], ordinal) => trialOf(piece, kind, bytes, ordinal));
  const shown = show(null, piece);
  shown.client.setDefaultOptions({ queries: { retry: false, staleTime: Number.POSITIVE_INFINITY } });
  const put = () => {
    shown.client.setQueryData(keys.trials(piece.pieceId), trials);
    shown.client.setQueryData(keys.kinds(piece.pieceId), null);
    if (host) shown.client.setQueryData(keys.practiceHost, host);
    const sending = items ? { piece: piece.pieceId, state: 'done', items, problem: null } : null;
    shown.client.setQueryData(keys.sending(piece.pieceId), sending);
  };
  put();
  const again = show(what, piece);
  again.client.setDefaultOptions({ queries: { retry: false, staleTime: Number.POSITIVE_INFINITY } });
  for (const query of shown.client.getQueryCache().getAll()) {
    act(() => void again.client.setQueryData(query.queryKey, query.state.data));
  }
  return { piece, trials };
}

const HOST: HostView = { url: 'http://localhost:4174', problem: null, places: placesOf(), pages: [] };

describe('files', () => {
  it('are named after the pattern, which is remembered', async () => {
    showSend(<FilesSection />, [['gif', 200_000]]);
    expect(await screen.findByText('First kettle of the day 480px.gif')).toBeDefined();
    const field = screen.getByLabelText('Name');
    await userEvent.clear(field);
    await userEvent.type(field, '{{piece}/{{rate} {{trial}');
    await userEvent.tab();
    expect(await screen.findByText('First kettle of the day 12 A.gif')).toBeDefined();
    expect(screen.getByRole('link', { name: /Save 200 KB/ }).getAttribute('href')).toBe(
      '/api/trials/trial-gif/file?saveAs=First%20kettle%20of%20the%20day%2012%20A.gif',
    );
    expect(JSON.parse(localStorage.getItem('muted-pond.send') ?? '{}').state.pattern).toBe(
      '{piece}/{rate} {trial}',
    );
  });

  it('of several kinds are saved together', async () => {
    showSend(<FilesSection />, [
      ['gif', 200_000],
      ['webp', 100_000],
    ]);
    expect(await screen.findByRole('button', { name: 'Save 2 kinds as a ZIP, 300 KB' })).toBeDefined();
  });
});

describe('the words for a page', () => {
  it('name the lightest first, and say what is to be seen once it was asked for', async () => {
    const { piece } = showSend(<PageSection />, [
      ['gif', 200_000],
      ['webp', 100_000],
      ['poster', 50_000],
    ]);
    const words = () => screen.getByText(/<picture>/).textContent ?? '';
    await screen.findByText(/<picture>/);
    expect(words()).toContain('type="image/webp" srcset="First%20kettle%20of%20the%20day%20480px.webp"');
    expect(words()).toContain('srcset="First%20kettle%20of%20the%20day%20480px%20still.png"');
    await userEvent.type(screen.getByLabelText('Alternative text'), 'Steam <rises>');
    await userEvent.tab();
    expect(words()).toContain('alt="Steam &lt;rises&gt;"');
    expect(piece.store.getState().about).toBe('Steam <rises>');
  });

  it('are not there before something can be shown', async () => {
    showSend(<PageSection />, []);
    expect(await screen.findByText('Make a kind that a page can show, below.')).toBeDefined();
  });

  it('a browser of today takes the lightest image, or the lightest movie', () => {
    const { trials } = showSend(null, [
      ['gif', 3],
      ['avif', 2],
      ['webm', 5],
      ['mp4', 4],
    ]);
    const sent = trials.map((trial) => ({
      ...{ trial, kind: trial.recipe.weigh.kind, name: trial.id, isSent: true },
      figures: trial.figures as NonNullable<TrialView['figures']>,
    }));
    expect(shownFile({ way: 'picture', sent })?.kind).toBe('avif');
    expect(shownFile({ way: 'image', sent })?.kind).toBe('gif');
    expect(shownFile({ way: 'video', sent })?.kind).toBe('mp4');
    expect(shownFile({ way: null, sent })).toBeNull();
  });
});

describe('kinds', () => {
  it('that are made have their figures; the others say what they are good for', async () => {
    showSend(<KindsLedger />, [
      ['gif', 200_000],
      ['mp4', 40_000],
    ]);
    const gif = (await screen.findByText('200 KB')).closest('tr') as HTMLElement;
    expect(screen.getByRole('table').querySelectorAll('tbody tr')).toHaveLength(7);
    expect(within(gif).getByText('GIF')).toBeDefined();
    // 3 Mbit/s are 375 000 bytes a second: a tenth stands around the frames, and the first is a fortieth.
    expect(within(gif).getByText('0.07 s')).toBeDefined();
    expect(screen.getByText(/not made · the lightest that is shown as an image/)).toBeDefined();
    expect(screen.getByRole('button', { name: 'Make all kinds' })).toBeDefined();
  });
});

describe('places', () => {
  it('say before anything is sent what they would not take', async () => {
    showSend(<PlacesSection />, [['gif', 700_000]], {
      host: { ...HOST, places: placesOf({ 'shop-banner': 'slow' }) },
    });
    const row = async (name: string) => (await screen.findByText(name)).closest('li') as HTMLElement;
    expect((await row('Chat square')).textContent).toContain('100 KB over, 160 px too wide');
    expect((await row('Blog column')).textContent).toContain('takes it');
    expect((await row('Shop banner')).textContent).toContain('slow');
    expect(whyOff(screen.getByRole('button', { name: 'Send' }))).toBe('Tick a place first.');
    await userEvent.click(screen.getByLabelText('Blog column'));
    await userEvent.click(screen.getByLabelText('Message sticker'));
    expect(whyOff(screen.getByRole('button', { name: 'Send to 2 places' }))).toBeNull();
  });

  const item = (part: Partial<SendingItem>): SendingItem => ({
    ...{ place: 'blog-column', placeName: 'Blog column', state: 'accepted', done: 1, doing: '', over: [] },
    ...{ trial: 'trial-gif', page: PAGE, problem: null },
    ...part,
  });

  it('that accepted have a page; with another file since then, it can be replaced', async () => {
    showSend(<PlacesSection />, [['gif', 1000]], { host: HOST, items: [item({ trial: 'an older one' })] });
    const link = await screen.findByRole('link', { name: 'Open the page' });
    expect(link.getAttribute('href')).toBe(PAGE.page);
    expect(link.getAttribute('rel')).toBe('noreferrer');
    expect(screen.getByRole('button', { name: 'Replace it with the present file' })).toBeDefined();
  });

  it('that refused say why, with the way to a file that fits', async () => {
    const over = [{ what: 'bytes' as const, is: 9, most: 5 }];
    const refused = item({ state: 'refused', page: null, problem: 'It weighs too much.', over });
    showSend(<PlacesSection />, [['gif', 1000]], { host: HOST, items: [refused] });
    expect(await screen.findByText('It weighs too much.')).toBeDefined();
    expect(screen.getByRole('button', { name: 'Fit under it' })).toBeDefined();
    expect(screen.queryByRole('link', { name: 'Open the page' })).toBeNull();
  });

  it('on the way to which the line broke can be gone on with', async () => {
    const stopped = item({ state: 'stopped', page: null, problem: 'Sending broke off.' });
    showSend(<PlacesSection />, [['gif', 1000]], { host: HOST, items: [stopped] });
    expect(await screen.findByRole('button', { name: 'Go on' })).toBeDefined();
  });

  it('are not there where the host does not run, and it is said why', async () => {
    showSend(<PlacesSection />, [['gif', 1000]], {
      host: { url: null, problem: 'Its folder cannot be written to.', places: [], pages: [] },
    });
    expect(await screen.findByText('Its folder cannot be written to.')).toBeDefined();
    expect(screen.queryByRole('button', { name: 'Send' })).toBeNull();
  });
});

describe('side by side', () => {
  it('takes two trials at least', async () => {
    showSend(
      <BesideSection />,
      [
        ['gif', 2000],
        ['webp', 1000],
      ],
      { host: HOST },
    );
    const look = await screen.findByRole<HTMLButtonElement>('button', { name: 'Look at them in step' });
    expect(whyOff(look)).toMatch(/^Choose two finished trials first/);
    await userEvent.click(screen.getByRole('combobox', { name: 'Trials side by side' }));
    for (const name of [/^A · GIF/, /^B · WebP/])
      await userEvent.click(await screen.findByRole('option', { name }));
    expect(whyOff(look)).toBeNull();
    expect(whyOff(screen.getByRole('button', { name: 'Publish at Blog column' }))).toBeNull();
  });
});
