// @vitest-environment jsdom
import type { FootageView, PieceView, TrialView } from '@muted-pond/core/api';
import { newRecipe, newStillsRecipe } from '@muted-pond/core/recipe';
import { fireEvent, screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { describe, expect, it } from 'vitest';
import { HASH, show, TIMES, Where } from '../testing/screen.js';
import { type Answers, type Call, changesIn, Refusal } from '../testing/scripted-server.js';
import { ShelfPage } from './ShelfPage.js';

const STILL = { times: { starts: [0], duration: 1 }, size: { width: 80, height: 60 } };
const stills = ['b', 'c'].map((letter) => ({ ...STILL, hash: letter.repeat(64) }));

const piece = (id: string, name: string, recipe: PieceView['recipe']): PieceView =>
  ({ id, name, about: '', revision: 3, recipe, updatedAt: '2026-05-01T08:00:00Z' }) as PieceView;
const KETTLE = piece('p1', 'First kettle', newRecipe(HASH, TIMES));
const MENU = piece('p2', 'Autumn menu', newStillsRecipe(stills));

const file = (id: string, name: string, kind: FootageView['kind']): FootageView =>
  ({
    id,
    name,
    kind,
    bytes: 2_400_000,
    width: 640,
    height: 360,
    frameCount: 250,
    seconds: 10,
    notes: [],
  }) as never;
const FILES = [
  file(HASH, 'steam.mov', 'video'),
  file(stills[0].hash, 'menu 10.png', 'picture'),
  file(stills[1].hash, 'menu 9.png', 'picture'),
];

/** The shelf over a server that has two pieces and their files. */
function opened(list: 'pieces' | 'footage', more: Answers = {}) {
  const shelf = new Map([KETTLE, MENU].map((one) => [one.id, one]));
  const gone = new Map<string, PieceView>();
  const shown = show(
    <>
      <ShelfPage list={list} />
      <Where />
    </>,
    null,
    {
      answers: {
        'GET pieces': () => [...shelf.values()],
        'GET footage': FILES,
        'GET trials/shown': [] satisfies TrialView[],
        'GET health': { decoder: true, missingKinds: {}, unknownFiles: 0 },
        'DELETE pieces/p1': () => {
          gone.set('p1', KETTLE);
          return shelf.delete('p1') ? null : undefined;
        },
        'POST pieces/p1/restore': () => {
          shelf.set('p1', gone.get('p1') as PieceView);
          return KETTLE;
        },
        'PUT pieces/p2': ({ body }: Call) => {
          const saved = { ...MENU, ...(body as Partial<PieceView>) };
          shelf.set('p2', saved);
          return saved;
        },
        'POST pieces': ({ body }: Call) => ({ ...KETTLE, id: 'new', name: JSON.stringify(body) }),
        ...more,
      },
    },
  );
  return { ...shown, changes: () => changesIn(shown.calls) };
}

const names = () => screen.queryAllByRole('article').map((card) => card.textContent ?? '');
const find = (words: string) => userEvent.type(screen.getByLabelText('Find a piece or its footage'), words);

describe('the shelf', () => {
  it('finds pieces by their own name and by that of their footage', async () => {
    opened('pieces');
    await screen.findByText('First kettle');
    expect(names()).toHaveLength(2);
    await find('STEAM');
    expect(names()).toHaveLength(1);
    expect(names()[0]).toContain('First kettle');
    await userEvent.clear(screen.getByLabelText('Find a piece or its footage'));
    await find('menu');
    expect(names()[0]).toContain('Autumn menu');
    await find(' of spring');
    expect(names()).toHaveLength(0);
    expect(screen.getByText('No piece and no footage is called “menu of spring”.')).toBeDefined();
  });

  it('goes to the search by a key, but not while one types', async () => {
    opened('pieces');
    await screen.findByText('First kettle');
    fireEvent.keyDown(document.body, { key: '/', code: 'Slash' });
    const search = screen.getByLabelText('Find a piece or its footage');
    expect(document.activeElement).toBe(search);
    await userEvent.type(search, 'a/b');
    expect((search as HTMLInputElement).value).toBe('a/b');
  });

  it('takes a piece off, and puts it back', async () => {
    const { changes } = opened('pieces');
    const card = (await screen.findByText('First kettle')).closest('article') as HTMLElement;
    await userEvent.click(within(card).getByRole('button', { name: 'More for First kettle' }));
    await userEvent.click(await screen.findByRole('menuitem', { name: 'Delete' }));
    await waitFor(() => expect(names()).toHaveLength(1));
    expect(changes()).toEqual([{ method: 'DELETE', path: 'pieces/p1', body: null }]);
    await screen.findByText('“First kettle” is off the shelf');
    await userEvent.click(screen.getByRole('button', { name: 'Put it back' }));
    await waitFor(() => expect(names()).toHaveLength(2));
    expect(changes().at(-1)).toMatchObject({ method: 'POST', path: 'pieces/p1/restore' });
  });

  it('gives a piece another name, from the revision that is shown', async () => {
    const { changes } = opened('pieces');
    await userEvent.click(await screen.findByRole('button', { name: 'More for Autumn menu' }));
    await userEvent.click(await screen.findByRole('menuitem', { name: 'Rename' }));
    const field = await screen.findByLabelText('Name of the piece');
    expect(document.activeElement).toBe(field);
    // The menu gives the focus back a moment after it was closed; the field keeps it.
    await expect(
      waitFor(() => expect(document.activeElement).not.toBe(field), { timeout: 100 }),
    ).rejects.toThrow();
    await userEvent.clear(field);
    await userEvent.type(field, 'Winter menu{Enter}');
    expect(changes()).toMatchObject([
      { method: 'PUT', path: 'pieces/p2', body: { name: 'Winter menu', revision: MENU.revision } },
    ]);
    await screen.findByText('Winter menu');
  });

  it('says why there is nothing to be seen', async () => {
    opened('pieces', { 'GET pieces': [] });
    await screen.findByText('The shelf is empty. Drop a video or pictures above to begin.');
    opened('pieces', { 'GET pieces': new Refusal(422, 'The shelf could not be read. Restart it.') });
    await screen.findByText('The shelf could not be read. Restart it.');
  });

  it('tells of a missing decoder, and that pictures work all the same', async () => {
    opened('pieces', { 'GET health': { decoder: false, missingKinds: {}, unknownFiles: 0 } });
    const note = await screen.findByText(/ffmpeg is not installed/);
    expect(note.closest('[role=status]')?.textContent).toContain('pictures and GIFs work meanwhile');
  });

  it('makes a copy of everything, and says where it lies and what it holds', async () => {
    const holds = { pieces: 2, footage: 3, trials: 7, pages: 1, files: 14, bytes: 31_000_000 };
    opened('pieces', { 'POST health/backup': { folder: '/backups/first', holds } });
    await userEvent.click(await screen.findByRole('button', { name: 'Back up' }));
    const told = await screen.findByText(/2 pieces, 3 files of footage, 7 trials and 1 page of/);
    expect(told.textContent).toContain('31.0 MB');
    expect(told.textContent).toContain('/backups/first');
  });
});

describe('the library', () => {
  it('begins a piece from a file, and opens it where it is cut', async () => {
    const { changes } = opened('footage');
    await userEvent.click(await screen.findByRole('button', { name: 'New piece from steam.mov' }));
    expect(changes()).toEqual([{ method: 'POST', path: 'pieces', body: { footage: HASH } }]);
    await waitFor(() => expect(screen.getByTestId('where').textContent).toBe('/pieces/new/cut'));
  });

  it('makes one piece of chosen pictures, in the order of their names', async () => {
    const { changes } = opened('footage');
    for (const name of ['menu 10.png', 'menu 9.png']) {
      await userEvent.click(await screen.findByLabelText(`Choose ${name}`));
    }
    expect(screen.getByText('2 pictures chosen')).toBeDefined();
    await userEvent.click(screen.getByRole('button', { name: 'One piece from them' }));
    expect(changes()[0].body).toMatchObject({ stills: [stills[1].hash, stills[0].hash] });
    await waitFor(() => expect(screen.getByTestId('where').textContent).toBe('/pieces/new/gather'));
  });

  it('lets go of what was chosen', async () => {
    opened('footage');
    await userEvent.click(await screen.findByLabelText('Choose menu 9.png'));
    await userEvent.click(screen.getByRole('button', { name: 'None' }));
    expect(screen.queryByText(/chosen/)).toBeNull();
    expect(screen.getByLabelText<HTMLInputElement>('Choose menu 9.png').checked).toBe(false);
  });

  it('says in how many pieces a file is, and tells why a piece could not be begun', async () => {
    opened('footage', {
      'POST pieces': new Refusal(409, 'The file is gone from the disk. Bring it in again.'),
    });
    const card = (await screen.findByText('steam.mov')).closest('article') as HTMLElement;
    await waitFor(() => expect(card.textContent).toContain('in 1 piece'));
    await userEvent.click(screen.getByRole('button', { name: 'New piece from steam.mov' }));
    await screen.findByText('The file is gone from the disk. Bring it in again.');
    expect(screen.getByTestId('where').textContent).toBe('/');
  });

  it('finds files by their names', async () => {
    opened('footage');
    await screen.findByText('steam.mov');
    await find('menu');
    expect(names().map((text) => /menu \d+\.png/.exec(text)?.[0])).toEqual(['menu 10.png', 'menu 9.png']);
    await find('!');
    expect(screen.getByText('No footage is called “menu!”.')).toBeDefined();
  });
});
