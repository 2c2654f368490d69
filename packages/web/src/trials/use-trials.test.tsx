// @vitest-environment jsdom
import type { TrialFigures, TrialProgress, TrialView } from '@muted-pond/core/api';
import { fileKey } from '@muted-pond/core/derived';
import { type FileKindId, fileKind } from '@muted-pond/core/files';
import { changeWeigh, type Recipe } from '@muted-pond/core/recipe';
import { act, screen } from '@testing-library/react';
import { describe, expect, it } from 'vitest';
import { placeTrial } from '../api/events.js';
import { keys } from '../api/queries.js';
import { openedPiece, show } from '../testing/screen.js';
import { PlayingTrial } from './PlayingTrial.js';
import { useTrialsView } from './use-trials.js';

const FIGURES = { kind: 'gif', width: 480, height: 270, bytes: 90_000 } as TrialFigures;

let told = 0;

function trial(letter: string, recipe: Recipe, part: Partial<Omit<TrialView, 'key'>>): TrialView {
  return {
    ...{ id: `trial-${letter}`, piece: 'piece', letter, name: null, pinned: false, recipe, seen: null },
    key: fileKey(recipe),
    revision: ++told,
    shownAs: fileKind(recipe.weigh.kind).shownAs,
    ...{ state: 'done', figures: null, problem: null, progress: null, createdAt: '2026-05-01T08:00:00Z' },
    ...part,
  };
}
const finished = (letter: string, recipe: Recipe) => trial(letter, recipe, { figures: FIGURES });
const inTheMaking = (letter: string, recipe: Recipe, file?: TrialProgress['file']) =>
  trial(letter, recipe, {
    ...{ state: 'working', progress: { done: 0.9, doing: 'comparing', file } },
    shownAs: fileKind(file?.kind ?? recipe.weigh.kind).shownAs,
  });
const fileOf = (kind: FileKindId) => ({ kind, width: 320, height: 180, bytes: 41_000 });

/** Says which trial is which, and shows the file as the stage does. */
function Told() {
  const { current, shown, unmeasured } = useTrialsView();
  const letters = [current, shown, unmeasured].map((one) => one?.letter ?? '–').join(' ');
  const file = unmeasured ?? shown;
  return (
    <>
      <output>{letters}</output>
      {file && <PlayingTrial trial={file} about="the file" />}
    </>
  );
}

function opened() {
  const piece = openedPiece();
  const { recipe } = piece.store.getState();
  const before: Recipe = { ...recipe, plays: 3 };
  const { client } = show(<Told />, piece);
  const list = (trials: TrialView[]) => act(() => client.setQueryData(keys.trials('piece'), trials));
  return {
    ...{ piece, recipe, before, list },
    hears: (one: TrialView) => act(() => placeTrial(client, one)),
    /** Resolves once it says so. */
    told: (letters: string) => screen.findByText(letters, { selector: 'output' }),
  };
}

describe('which file stands on the stage', () => {
  it('is the newest finished one until the present settings have theirs', async () => {
    const { recipe, before, list, hears, told } = opened();
    list([finished('A', { ...before, plays: 2 }), finished('B', before)]);
    await told('– B –');
    hears(inTheMaking('C', recipe));
    await told('C B –');
    hears(finished('C', recipe));
    await told('C C –');
  });

  it('is a file that is only measured any more, in its own size, and the same once it is measured', async () => {
    const { recipe, before, list, hears, told } = opened();
    list([finished('A', before), inTheMaking('B', recipe)]);
    await told('B A –');
    const picture = () => screen.getByRole('img');
    expect(picture().getAttribute('src')).toContain('trial-A');
    hears(inTheMaking('B', recipe, fileOf('gif')));
    await told('B A B');
    const early = picture();
    expect(early.getAttribute('src')).toContain('trial-B');
    expect([early.getAttribute('width'), early.getAttribute('height')]).toEqual(['320', '180']);
    hears({ ...finished('B', recipe), figures: { ...FIGURES, width: 320, height: 180 } });
    await told('B B –');
    // It is not loaded again, and goes on where it is.
    expect(picture()).toBe(early);
    expect(picture().getAttribute('src')).toBe(early.getAttribute('src'));
  });

  it('is a movie where a page plays one, without a bar', async () => {
    const { recipe, list } = opened();
    list([inTheMaking('A', recipe, fileOf('webm'))]);
    const movie = await screen.findByLabelText('the file');
    expect(movie.tagName).toBe('VIDEO');
    expect(movie.hasAttribute('controls')).toBe(false);
  });

  it('is not a list of pictures before that is kept', async () => {
    const { recipe, before, list, told } = opened();
    list([finished('A', before), inTheMaking('B', recipe, fileOf('frames'))]);
    await told('B A –');
  });

  it('is not that of settings that are no longer the present ones', async () => {
    const { piece, recipe, before, list, told } = opened();
    list([finished('A', before), inTheMaking('B', recipe, fileOf('gif'))]);
    await told('B A B');
    act(() => piece.store.getState().change((one) => ({ ...one, plays: 7 })));
    await told('– A –');
    act(() => piece.store.getState().change(() => before));
    await told('A A –');
  });

  it('is the same GIF again after another kind was tried and its own settings were moved', async () => {
    const { piece, recipe, list, told } = opened();
    list([
      finished('A', recipe),
      finished('B', { ...recipe, weigh: changeWeigh(recipe.weigh, { kind: 'webp' }) }),
    ]);
    await told('A A –');
    const set = (change: Parameters<typeof changeWeigh>[1]) =>
      act(() => piece.store.getState().change((one) => ({ ...one, weigh: changeWeigh(one.weigh, change) })));
    set({ kind: 'webp' });
    await told('B B –');
    set({ webp: { quality: 12 } });
    await told('– B –');
    set({ kind: 'gif' });
    await told('A A –');
  });

  it('is the same after something was only renamed', async () => {
    const { piece, recipe, list, told } = opened();
    const veiled = (name: string): Recipe => ({
      ...recipe,
      dress: {
        ...recipe.dress,
        veils: [
          {
            ...{ id: 'v', name, shape: 'rectangle', mask: null, effect: 'plain', strength: 50 },
            ...{ colour: '#16302e', feather: 0, span: null, shown: true },
            keys: [{ x: 0, y: 0, width: 0.1, height: 0.1, frame: 0, by: 'hand' }],
          },
        ],
      },
    });
    list([finished('A', veiled('Face'))]);
    act(() => piece.store.getState().change(() => veiled('Number plate')));
    await told('A A –');
  });
});
