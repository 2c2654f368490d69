// @vitest-environment jsdom
import type { FootageView } from '@muted-pond/core/api';
import { type Limit, newStillsRecipe, type StillsSource } from '@muted-pond/core/recipe';
import { act, screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { expect, it } from 'vitest';
import { useStore } from 'zustand';
import type { OpenFile } from '../../api/queries.js';
import { useWorkspace } from '../../piece/workspace-context.js';
import { createFilesStore } from '../../store/files-store.js';
import { openedPiece, show } from '../../testing/screen.js';
import { StillsBank } from './StillsBank.js';

const LIMIT: Limit = {
  ...{ id: 'chat', name: 'Chat', width: 480, height: null, bytes: 100_000 },
  ...{ seconds: null, frameRate: null, alpha: true, kinds: null },
};

const still = (letter: string, name: string, width: number, height: number): OpenFile => ({
  view: {
    ...{ id: letter.repeat(64), name, kind: 'picture', bytes: 1_200_000, container: 'png', codec: 'png' },
    ...{ width, height, frameCount: 1, seconds: 1, notes: [`${name} was turned upright.`], problem: null },
  } as unknown as FootageView,
  times: { starts: [0], duration: 1 },
});
const FILES = [
  still('1', 'cup 10.png', 800, 600),
  still('2', 'cup 9.png', 640, 480),
  still('3', 'cup 2.png', 300, 200),
];

function Bank() {
  const { store } = useWorkspace();
  const [source] = useStore(store, ({ recipe }) => recipe.sources);
  return <StillsBank source={source as StillsSource} />;
}

/** Three pictures in no order. */
function opened() {
  const recipe = newStillsRecipe(
    FILES.map(({ view, times }) => ({
      hash: view.id,
      size: { width: view.width, height: view.height },
      times,
    })),
  );
  const piece = { ...openedPiece(() => recipe), files: createFilesStore(FILES) };
  show(<Bank />, piece, { answers: { 'GET limits': [LIMIT] } });
  const source = () => piece.store.getState().recipe.sources[0] as StillsSource;
  const names = () =>
    source().pictures.map(({ hash }) => FILES.find(({ view }) => view.id === hash)?.view.name ?? '?');
  return { piece, source, names };
}

const button = (name: string) => screen.getByRole('button', { name });
async function enter(label: string, typed: string): Promise<void> {
  const field = screen.getByLabelText(label);
  await userEvent.clear(field);
  await userEvent.type(field, `${typed}{Enter}`);
}

it('pictures stand by name, numbers counted, or the other way round; each is one undo step', async () => {
  const { piece, names } = opened();
  expect(screen.getByText('3 pictures')).toBeDefined();
  await userEvent.click(button('By name'));
  expect(names()).toEqual(['cup 2.png', 'cup 9.png', 'cup 10.png']);
  await userEvent.click(button('Reversed'));
  expect(names()).toEqual(['cup 10.png', 'cup 9.png', 'cup 2.png']);
  const { undo } = piece.store.temporal.getState();
  act(() => undo());
  act(() => undo());
  expect(names()).toEqual(['cup 10.png', 'cup 9.png', 'cup 2.png']);
  expect(piece.store.getState().recipe.span).toEqual({ start: 0, end: 3 });
});

it('all are shown for as long as is typed, within what a file can hold', async () => {
  const { source } = opened();
  await enter('Each picture for, seconds', '0.25');
  expect(source().delayCs).toBe(25);
  await enter('Each picture for, seconds', '9999');
  expect(await screen.findByText(/is the most here/)).toBeDefined();
  expect(source().delayCs).toBe(25);
});

it('the canvas is typed, or taken from the largest picture or from a limit', async () => {
  const { source } = opened();
  await enter('Canvas width', '400');
  await enter('Canvas height', '300');
  expect(source().canvas).toEqual({ width: 400, height: 300 });
  await userEvent.click(button('Take from…'));
  await userEvent.click(await screen.findByRole('menuitem', { name: 'Chat · 480 × 360' }));
  expect(source().canvas).toEqual({ width: 480, height: 360 });
  await userEvent.click(button('Take from…'));
  await userEvent.click(await screen.findByRole('menuitem', { name: 'The largest picture' }));
  expect(source().canvas).toEqual({ width: 800, height: 600 });
});

it('room beside pictures is matte, or see-through', async () => {
  const { source } = opened();
  await userEvent.click(screen.getByLabelText('Leave it see-through'));
  expect(source().matte).toBe('transparent');
  expect(screen.getByLabelText<HTMLInputElement>('Matte colour').disabled).toBe(true);
  await userEvent.click(screen.getByLabelText('Leave it see-through'));
  expect(source().matte).toBe('#ffffff');
});

it('the picture on the stage says what it is, and what was done to show it right', async () => {
  const { piece } = opened();
  expect(screen.getByText(/^800 × 600 px, PNG, 1\.20? MB$/)).toBeDefined();
  act(() => piece.session.getState().seek(2));
  await waitFor(() => expect(screen.getByText(/^300 × 200 px, PNG/)).toBeDefined());
  expect(screen.getByText('cup 2.png was turned upright.')).toBeDefined();
});
