// @vitest-environment jsdom
import type { TrialFigures, TrialView } from '@muted-pond/core/api';
import { fileKey } from '@muted-pond/core/derived';
import { fileKind } from '@muted-pond/core/files';
import type { Limit, Recipe } from '@muted-pond/core/recipe';
import { act, fireEvent, screen, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { beforeEach, expect, it, vi } from 'vitest';
import { keys } from '../../api/queries.js';
import { openedPiece, show } from '../../testing/screen.js';
import { type Answers, type Call, changesIn, Refusal } from '../../testing/scripted-server.js';
import { chooseLimit } from '../../trials/limit-choice.js';
import { setWeighView } from '../../trials/weigh-view.js';
import { TrialLedger } from './TrialLedger.js';

// The chart is drawn on a canvas, which jsdom has not.
vi.mock('./FrameWeights.js', () => ({ FrameWeights: () => null }));

const LIMIT: Limit = {
  ...{ id: 'chat', name: 'Chat', width: 480, height: null, bytes: 100_000 },
  ...{ seconds: null, frameRate: null, alpha: true, kinds: null },
};

const figures = (bytes: number, width = 480): TrialFigures => ({
  ...{ kind: 'gif', bytes, width, height: 270, frames: 3, durationMs: 600, hasAlpha: false, colors: 64 },
  ...{ likeness: 0.97, steady: null, frameBytes: [bytes, 0, 0], palette: [] },
  ms: { decode: 1, compose: 1, encode: 1, total: 1500 },
});

function trial(letter: string, recipe: Recipe, part: Partial<TrialView> = {}): TrialView {
  return {
    ...{ id: `t-${letter}`, piece: 'piece', letter, name: null, pinned: false, state: 'done', recipe },
    ...{ key: fileKey(recipe), shownAs: fileKind(recipe.weigh.kind).shownAs, figures: figures(80_000) },
    ...{ seen: null, problem: null, progress: null, createdAt: '2026-05-01T08:00:00Z', revision: 1, ...part },
  };
}

beforeEach(() => {
  chooseLimit('piece', null);
  setWeighView({ chart: 'frames' });
});

/** Three trials: of other settings, of the present ones, and one that is being made. */
function opened(answers: Answers = {}) {
  const piece = openedPiece();
  const { recipe } = piece.store.getState();
  const at = (width: number): Recipe => ({ ...recipe, weigh: { ...recipe.weigh, width } });
  const trials = [
    trial('A', at(320), { figures: figures(40_000, 320), name: 'light' }),
    trial('B', recipe, { figures: figures(140_000) }),
    trial('C', at(200), { state: 'working', figures: null, progress: { done: 0.41, doing: 'settling' } }),
  ];
  const changed = ({ path, body }: Call) => {
    const one = trials.find(({ id }) => path === `trials/${id}`) as TrialView;
    return { ...one, ...(body as object), revision: one.revision + 1 };
  };
  const shown = show(<TrialLedger />, piece, {
    answers: {
      'GET limits': [LIMIT],
      'GET pieces/piece/trials': trials,
      'PATCH trials/t-A': changed,
      'PATCH trials/t-B': changed,
      'DELETE trials/t-A': null,
      ...answers,
    },
  });
  return { ...shown, piece, trials, changes: () => changesIn(shown.calls) };
}

const row = async (letter: string) =>
  (await screen.findByRole('button', { name: `Go back to trial ${letter}` })).closest('tr') as HTMLElement;
const textOf = async (letter: string) => (await row(letter)).textContent ?? '';

it('every trial says its kind, size and true weight; one in the making how far it is', async () => {
  opened();
  expect(await textOf('A')).toContain('GIF320 × 270');
  expect(await textOf('A')).toContain('40 KB');
  expect(await textOf('B')).toContain('140 KB');
  expect(await textOf('C')).toContain('41 %');
  expect((await row('B')).getAttribute('aria-current')).toBe('true');
  expect((await row('A')).getAttribute('aria-current')).toBeNull();
});

it('a click goes back to the settings of a trial, as one undo step', async () => {
  const { piece, trials } = opened();
  const before = piece.store.getState().recipe;
  await userEvent.click(await row('A'));
  expect(piece.store.getState().recipe).toEqual(trials[0].recipe);
  act(() => piece.store.temporal.getState().undo());
  expect(piece.store.getState().recipe).toEqual(before);
  // Its name is a field of its own.
  await userEvent.click(within(await row('A')).getByLabelText('Name of trial A'));
  expect(piece.store.getState().recipe).toEqual(before);
});

it('a trial is named, pinned by its button or by P, and told of at once', async () => {
  const { changes } = opened();
  const name = within(await row('A')).getByLabelText('Name of trial A');
  await userEvent.clear(name);
  await userEvent.type(name, 'for chat{Enter}');
  expect(changes().at(-1)).toEqual({ method: 'PATCH', path: 'trials/t-A', body: { name: 'for chat' } });
  await userEvent.click(within(await row('A')).getByRole('button', { name: 'Pin trial A' }));
  await screen.findByRole('button', { name: 'Unpin trial A' });
  fireEvent.keyDown(document.body, { key: 'p', code: 'KeyP' });
  await screen.findByRole('button', { name: 'Unpin trial B' });
  expect(changes().map(({ body }) => body)).toEqual([
    { name: 'for chat' },
    { pinned: true },
    { pinned: true },
  ]);
});

it('an emptied name is none, and one that is left as it was changes nothing', async () => {
  const { changes } = opened();
  const name = within(await row('A')).getByLabelText('Name of trial A');
  await userEvent.click(name);
  await userEvent.tab();
  expect(changes()).toEqual([]);
  await userEvent.clear(name);
  await userEvent.tab();
  expect(changes()[0].body).toEqual({ name: null });
});

it('a limit is held against every file, and says in what one is over', async () => {
  chooseLimit('piece', LIMIT.id);
  opened();
  await screen.findByRole('columnheader', { name: 'limit' });
  expect(within(await row('A')).getByText('fits')).toBeDefined();
  expect(within(await row('B')).getByText('over').title).toContain('40 KB');
});

it('one is deleted, and the list is read again; what goes wrong is told', async () => {
  const { client, changes } = opened();
  await userEvent.click(within(await row('A')).getByRole('button', { name: 'Delete trial A' }));
  expect(changes()).toEqual([{ method: 'DELETE', path: 'trials/t-A', body: null }]);
  expect(client.getQueryState(keys.trials('piece'))?.dataUpdateCount).toBeGreaterThan(0);
  opened({ 'DELETE trials/t-A': new Refusal(409, 'This trial is being sent. Stop that first.') });
  await userEvent.click(within(await row('A')).getByRole('button', { name: 'Delete trial A' }));
  await screen.findByText('This trial is being sent. Stop that first.');
  expect(await row('A')).toBeDefined();
});

it('the file of the present settings cannot be deleted under one’s eyes', async () => {
  opened();
  const present = await row('B');
  expect(within(present).queryByRole('button', { name: 'Delete trial B' })).toBeNull();
  expect(within(await row('C')).getByRole('button', { name: 'Delete trial C' })).toBeDefined();
});
