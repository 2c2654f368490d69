// @vitest-environment jsdom
import type { FootageView, PieceView } from '@muted-pond/core/api';
import { newRecipe } from '@muted-pond/core/recipe';
import { act, cleanup, fireEvent, screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import { connection } from '../api/connection.js';
import { keys, queryClient } from '../api/queries.js';
import { useWorkspace, type Workspace } from '../piece/workspace-context.js';
import { useReelSelection } from '../reel/reel-selection.js';
import { setCropView, useCropView } from '../stones/cut/crop-view.js';
import { HASH, show, TIMES } from '../testing/screen.js';
import { type Answers, type Call, changesIn, Refusal } from '../testing/scripted-server.js';
import { WorkspacePage } from './WorkspacePage.js';

/** Stones without a picture; the screen gives its workspace away. */
const light = vi.hoisted(() => ({ seen: null as unknown, loads: [] as string[] }));
vi.mock('../stones/index.js', () => {
  function Stage() {
    light.seen = useWorkspace();
    return <p>the stage</p>;
  }
  const stone = (id: string, name: string) => ({
    ...{ id, name, Value: () => <>{id} value</> },
    load: async () => {
      light.loads.push(id);
      return { screen: { Stage, Bank: () => <p>{name}: bank</p>, Lower: () => <p>below</p> } };
    },
  });
  return { STONES: [stone('gather', 'Gather'), stone('cut', 'Cut'), stone('loop', 'Loop')] };
});

const PIECE = {
  ...{ id: 'p1', name: 'First kettle', about: '', revision: 4, updatedAt: '2026-05-01T08:00:00Z' },
  recipe: newRecipe(HASH, TIMES),
} as PieceView;
const FOOTAGE = {
  ...{ id: HASH, name: 'kettle.mov', kind: 'video', width: 640, height: 360, seconds: 10, bytes: 1 },
  ...{ frameCount: 250, notes: [], strip: { count: 48, made: 48 } },
} as unknown as FootageView;

beforeEach(() => {
  // A page that goes remembers where one was.
  cleanup();
  queryClient.clear();
  localStorage.clear();
  light.loads.length = 0;
  vi.stubGlobal(
    'Worker',
    class {
      postMessage() {}
      terminate() {}
    },
  );
});

function opened(more: Answers = {}, at = '/pieces/p1/cut') {
  const shown = show(null, null, {
    at,
    routes: [{ path: '/pieces/:piece/:stone', element: <WorkspacePage /> }],
    answers: {
      'GET pieces/p1': PIECE,
      [`GET footage/${HASH}`]: FOOTAGE,
      [`GET footage/${HASH}/times`]: TIMES,
      'PUT pieces/p1': ({ body }: Call) => ({ ...PIECE, ...(body as object), revision: 5 }),
      ...more,
    },
  });
  return { ...shown, saves: () => changesIn(shown.calls).filter(({ path }) => path === 'pieces/p1') };
}

const workspace = () => light.seen as Workspace;
const isThere = () => screen.findByText('the stage');
const press = (key: string, more: object = {}) =>
  fireEvent.keyDown(document.body, { key, code: codeOf(key), ...more });
const codeOf = (key: string) => (key === ' ' ? 'Space' : /^\d$/.test(key) ? `Digit${key}` : key);
const changePlays = (plays: number) =>
  act(() =>
    workspace()
      .store.getState()
      .change((recipe) => ({ ...recipe, plays })),
  );

describe('opening a piece', () => {
  it('reads it and its files, shows the stone of the address, and names the page', async () => {
    opened();
    expect(screen.getByLabelText('Opening the piece')).toBeDefined();
    await isThere();
    expect(screen.getByText('Cut: bank')).toBeDefined();
    expect(document.title).toBe('First kettle · Muted Pond');
    expect(screen.getByRole('link', { current: 'step' }).textContent).toContain('Cut');
    expect(workspace().files.getState().files.get(HASH)?.times).toEqual(TIMES);
  });

  it('tells why it cannot be opened: the piece, a file of it, or the stone', async () => {
    opened({ 'GET pieces/p1': new Refusal(404, 'This piece was deleted. Look on the shelf.') });
    await screen.findByText('This piece was deleted. Look on the shelf.');
    queryClient.clear();
    opened({ [`GET footage/${HASH}`]: new Refusal(404, 'kettle.mov is gone. Bring it in again.') });
    await screen.findByText('kettle.mov is gone. Bring it in again.');
    queryClient.clear();
    opened({}, '/pieces/p1/swim');
    await screen.findByText('The course has no stone of that name.');
  });

  it('comes back to the frame where one was', async () => {
    localStorage.setItem('muted-pond.place.p1', '123');
    const { unmount } = opened();
    await isThere();
    expect(workspace().session.getState().playhead).toBe(123);
    act(() => workspace().session.getState().seek(77));
    unmount();
    expect(localStorage.getItem('muted-pond.place.p1')).toBe('77');
  });

  it('keeps its undo steps when it is read again after a gap, and saves what failed meanwhile', async () => {
    let isAway = false;
    const { client, saves } = opened({
      'PUT pieces/p1': ({ body }: Call) =>
        isAway ? new Refusal(503, 'The server is away.') : { ...PIECE, ...(body as object), revision: 5 },
      'GET pieces/p1': () => ({ ...PIECE, name: 'Renamed elsewhere' }),
    });
    await isThere();
    const before = workspace();
    isAway = true;
    changePlays(3);
    await screen.findByText('Not saved, trying again');
    const failed = saves().length;
    isAway = false;
    await act(async () => {
      connection.setState(({ reconnects }) => ({ reconnects: reconnects + 1 }));
      await client.invalidateQueries({ queryKey: keys.piece('p1') });
    });
    await screen.findByText('Saved');
    expect(saves().length).toBeGreaterThan(failed);
    expect(workspace()).toBe(before);
    await userEvent.click(screen.getByRole('button', { name: 'Undo' }));
    expect(workspace().store.getState().recipe.plays).toBe(PIECE.recipe.plays);
  });

  it('leaves what is chosen in it behind: the next piece begins with nothing chosen', async () => {
    const { unmount } = opened();
    await isThere();
    // Frame 3 of the next piece is another frame: Delete must not reach it.
    useReelSelection.setState({ chosen: new Set(['3.0']), anchor: 3 });
    setCropView({ shape: 'square', drawn: { x: 4, y: 4, width: 9, height: 9 } });
    unmount();
    opened();
    await isThere();
    expect([...useReelSelection.getState().chosen]).toEqual([]);
    expect(useCropView.getState().drawn).toBeNull();
  });

  it('fetches the other stones once this one is there', async () => {
    vi.useFakeTimers({ shouldAdvanceTime: true });
    try {
      opened();
      await isThere();
      await act(async () => void (await vi.advanceTimersByTimeAsync(2000)));
      expect(new Set(light.loads)).toEqual(new Set(['gather', 'cut', 'loop']));
    } finally {
      vi.useRealTimers();
    }
  });
});

describe('keys on every stone', () => {
  it('play, step and walk, and leave fields their own', async () => {
    opened();
    await isThere();
    const { session } = workspace();
    expect(session.getState().playing).toBe(true);
    press(' ');
    expect(session.getState().playing).toBe(false);
    press(' ');
    expect(session.getState().playing).toBe(true);
    press('ArrowRight');
    expect(session.getState().playing).toBe(false);
    const at = session.getState().playhead;
    press('ArrowRight', { shiftKey: true });
    expect(session.getState().playhead).toBe(at + 10);
    press('ArrowLeft');
    expect(session.getState().playhead).toBe(at + 9);
    await userEvent.click(screen.getByTitle('Rename'));
    await userEvent.type(screen.getByLabelText('Name of the piece'), ' 3 ');
    expect(session.getState().playing).toBe(false);
    expect(screen.getByText('Cut: bank')).toBeDefined();
    await userEvent.type(screen.getByLabelText('Name of the piece'), '{Enter}');
    press('3');
    await screen.findByText('Loop: bank');
  });

  it('take back and do again', async () => {
    opened();
    await isThere();
    changePlays(5);
    const plays = () => workspace().store.getState().recipe.plays;
    press('z', { ctrlKey: true });
    expect(plays()).toBe(PIECE.recipe.plays);
    press('z', { ctrlKey: true, shiftKey: true });
    expect(plays()).toBe(5);
    press('z', { ctrlKey: true });
    press('y', { ctrlKey: true });
    expect(plays()).toBe(5);
  });
});

describe('the bar', () => {
  it('renames the piece by Enter, not by Escape, and saves it with the recipe', async () => {
    const { saves } = opened();
    await isThere();
    const rename = async (typed: string) => {
      await userEvent.click(screen.getByTitle('Rename'));
      const field = screen.getByLabelText('Name of the piece');
      await userEvent.clear(field);
      await userEvent.type(field, typed);
    };
    await rename('Second kettle{Escape}');
    expect(screen.getByTitle('Rename').textContent).toBe('First kettle');
    await rename('Second kettle{Enter}');
    await waitFor(() => expect(saves().at(-1)?.body).toMatchObject({ name: 'Second kettle', revision: 4 }));
  });

  it('says why it is not saved, and offers to try again or to keep the recipe as a file', async () => {
    opened({ 'PUT pieces/p1': new Refusal(422, 'The span lies outside the footage.') });
    await isThere();
    changePlays(3);
    await screen.findByText('Not saved');
    await screen.findByText('The span lies outside the footage.');
    expect(screen.getByRole('button', { name: 'Try again now' })).toBeDefined();
    expect(screen.getByRole('button', { name: 'Save the recipe as a file' })).toBeDefined();
  });

  it('lets one choose where another window was first: this one, or the other', async () => {
    const theirs = { ...PIECE, name: 'Their kettle', revision: 9, recipe: { ...PIECE.recipe, plays: 7 } };
    const stale = ({ body }: Call) =>
      (body as { revision: number }).revision === 9
        ? { ...theirs, ...(body as object), revision: 10 }
        : new Refusal(409, 'Somebody has saved since.', { code: 'stale', current: theirs });
    const { saves } = opened({ 'PUT pieces/p1': stale });
    await isThere();
    changePlays(3);
    await userEvent.click(await screen.findByText('Changed elsewhere: choose'));
    await userEvent.click(await screen.findByRole('button', { name: 'Take the other one' }));
    await waitFor(() => expect(workspace().store.getState()).toMatchObject({ name: 'Their kettle' }));
    expect(workspace().store.getState().recipe.plays).toBe(7);
    changePlays(2);
    await screen.findByText('Saved');
    expect(saves().at(-1)?.body).toMatchObject({ revision: 9, recipe: { plays: 2 } });
  });
});
