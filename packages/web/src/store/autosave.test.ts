import type { PieceSave, PieceView } from '@muted-pond/core/api';
import { newRecipe, type Recipe } from '@muted-pond/core/recipe';
import { describe, expect, it } from 'vitest';
import { ApiProblem } from '../api/client.js';
import { createAutosave } from './autosave.js';
import { createPieceStore } from './piece-store.js';

const recipe = newRecipe('c'.repeat(64), {
  starts: Array.from({ length: 100 }, (_, i) => i / 25),
  duration: 4,
});
const opened: PieceView = {
  id: 'p',
  name: 'Dusk',
  about: '',
  recipe,
  revision: 4,
  createdAt: '',
  updatedAt: '',
};

/** A server that answers when it is told to, and a clock that runs when it is told to. */
function doors() {
  const saves: PieceSave[] = [];
  let answers: ((save: PieceSave) => PieceView)[] = [];
  let waiting: (() => void)[] = [];
  const waits: number[] = [];
  const answer = (save: PieceSave): PieceView => ({ ...opened, ...save, revision: save.revision + 1 });
  return {
    saves,
    failNext(error: Error) {
      answers.push(() => {
        throw error;
      });
    },
    /** Lets all that waits for a rest of the hand run. */
    async rest() {
      const now = waiting;
      waiting = [];
      for (const run of now) run();
      await new Promise((resolve) => setImmediate(resolve));
    },
    save: async (_id: string, save: PieceSave) => {
      saves.push(save);
      const [next, ...others] = answers;
      answers = others;
      return (next ?? answer)(save);
    },
    waits,
    later(run: () => void, ms: number) {
      waits.push(ms);
      waiting.push(run);
      return () => {
        waiting = waiting.filter((other) => other !== run);
      };
    },
  };
}

function stillsOf(count: number): Recipe['sources'] {
  const picture = { hash: 'd'.repeat(64), fit: null, focus: { x: 0.5, y: 0.5 } };
  const rest = {
    canvas: { width: 100, height: 100 },
    fit: 'contain',
    matte: '#ffffff',
    delayCs: 100,
  } as const;
  return [{ kind: 'stills', pictures: new Array(count).fill(picture), ...rest }];
}

function open() {
  const store = createPieceStore(opened);
  const outside = doors();
  const autosave = createAutosave(store, opened, outside);
  const setWidth = (width: number) =>
    store.getState().change((now) => ({ ...now, weigh: { ...now.weigh, width } }));
  return { store, outside, autosave, setWidth };
}

describe('saving by itself', () => {
  it('waits for the hand to rest, saves once, and goes on from the new revision', async () => {
    const { outside, autosave, setWidth } = open();
    setWidth(300);
    setWidth(310);
    expect(autosave.state.getState().type).toBe('saving');
    expect(outside.saves).toHaveLength(0);
    await outside.rest();
    expect(outside.saves.map((save) => [save.revision, save.recipe.weigh.width])).toEqual([[4, 310]]);
    expect(autosave.state.getState().type).toBe('saved');
    setWidth(320);
    await outside.rest();
    expect(outside.saves[1].revision).toBe(5);
  });

  it('has nothing to do where a change is undone before the hand rests', async () => {
    const { store, outside, autosave, setWidth } = open();
    setWidth(300);
    store.temporal.getState().undo();
    expect(autosave.state.getState()).toEqual({ type: 'saved' });
    await outside.rest();
    expect([outside.saves.length, autosave.wouldBeLost()]).toEqual([0, false]);
  });

  it('has nothing left to do where a save that was refused is undone', async () => {
    const { store, outside, autosave, setWidth } = open();
    outside.failNext(new ApiProblem(413, 'too_large', 'Too large.'));
    setWidth(300);
    await outside.rest();
    expect(autosave.state.getState().type).toBe('failed');
    store.temporal.getState().undo();
    expect(autosave.state.getState()).toEqual({ type: 'saved' });
    await outside.rest();
    expect(outside.saves).toHaveLength(1);
  });

  it('saves again what is undone while its save is under way, whether that succeeds or not', async () => {
    for (const failure of [null, new ApiProblem(413, 'too_large', 'Too large.')]) {
      const { store, outside, autosave, setWidth } = open();
      if (failure) outside.failNext(failure);
      setWidth(300);
      const saving = autosave.flush();
      store.temporal.getState().undo();
      await saving;
      await outside.rest();
      expect(autosave.state.getState()).toEqual({ type: 'saved' });
      expect(outside.saves.map((save) => save.recipe.weigh.width)).toEqual(
        failure ? [300] : [300, recipe.weigh.width],
      );
    }
  });

  it('saves what was undone where it is not known whether the change had arrived', async () => {
    const { store, outside, autosave, setWidth } = open();
    outside.failNext(new ApiProblem(0, 'unreachable', 'No answer.'));
    setWidth(300);
    await outside.rest();
    store.temporal.getState().undo();
    await outside.rest();
    expect(outside.saves.map((save) => save.recipe.weigh.width)).toEqual([300, recipe.weigh.width]);
    expect(autosave.state.getState()).toEqual({ type: 'saved' });
  });

  it('knows its own save again whose answer was lost, and asks nobody to choose', async () => {
    const { outside, autosave, setWidth } = open();
    outside.failNext(new ApiProblem(0, 'unreachable', 'No answer.'));
    setWidth(300);
    await outside.rest();
    const arrived = { ...opened, ...outside.saves[0], revision: 5 };
    outside.failNext(new ApiProblem(409, 'stale', 'Changed elsewhere.', { current: arrived }));
    setWidth(310);
    await outside.rest();
    await outside.rest();
    expect(outside.saves.map(({ revision, recipe: { weigh } }) => [revision, weigh.width])).toEqual([
      [4, 300],
      [4, 310],
      [5, 310],
    ]);
    expect(autosave.state.getState()).toEqual({ type: 'saved' });
  });

  it('does not save what the hand only tries', async () => {
    const { store, outside } = open();
    store.getState().preview((now) => ({ ...now, span: { start: 3, end: 9 } }));
    await outside.rest();
    store.getState().dropDraft();
    await outside.rest();
    expect(outside.saves).toHaveLength(0);
  });

  it('tries again when the server does not answer, and loses nothing', async () => {
    const { outside, autosave, setWidth } = open();
    outside.failNext(new ApiProblem(0, 'unreachable', 'No answer.'));
    setWidth(200);
    await outside.rest();
    expect(autosave.state.getState()).toEqual({ type: 'failed', message: 'No answer.', again: true });
    await outside.rest();
    expect(outside.saves.map((save) => save.recipe.weigh.width)).toEqual([200, 200]);
    expect(autosave.state.getState().type).toBe('saved');
  });

  it('waits longer after each failure, ends, and goes on when it is told to', async () => {
    const { outside, autosave, setWidth } = open();
    for (let i = 0; i < 12; i++) outside.failNext(new ApiProblem(503, 'closing', 'Busy.'));
    setWidth(200);
    for (let i = 0; i < 12; i++) await outside.rest();
    expect(outside.saves).toHaveLength(12);
    expect(autosave.state.getState()).toEqual({ type: 'failed', message: 'Busy.', again: false });
    await outside.rest();
    expect(outside.saves).toHaveLength(12);
    expect(outside.waits.slice(1)).toEqual([3, 6, 12, 24, 48, 60, 60, 60, 60, 60, 60].map((s) => s * 1000));
    expect(autosave.wouldBeLost()).toBe(true);
    autosave.tryAgain();
    await expect.poll(() => autosave.state.getState().type).toBe('saved');
    expect(autosave.wouldBeLost()).toBe(false);
  });

  it('does not try again what cannot succeed, until something is changed', async () => {
    const { outside, autosave, setWidth } = open();
    outside.failNext(new ApiProblem(413, 'too_large', 'Too large.'));
    setWidth(200);
    await outside.rest();
    expect(autosave.state.getState()).toEqual({ type: 'failed', message: 'Too large.', again: false });
    await outside.rest();
    expect(outside.saves).toHaveLength(1);
    setWidth(210);
    await outside.rest();
    expect(autosave.state.getState().type).toBe('saved');
  });

  it('would lose what is too large for a page that is gone, and says so', async () => {
    const { store, outside, autosave } = open();
    expect(autosave.wouldBeLost()).toBe(false);
    store.getState().change((now) => ({ ...now, sources: stillsOf(600) }));
    expect(autosave.wouldBeLost()).toBe(true);
    await outside.rest();
    expect(autosave.wouldBeLost()).toBe(false);
    expect(outside.saves[0].recipe.sources[0]).toMatchObject({ kind: 'stills' });
  });

  it('never sends two saves from one revision, however many ask at once', async () => {
    const { outside, autosave, setWidth } = open();
    setWidth(300);
    const first = autosave.flush();
    setWidth(310);
    await Promise.all([first, autosave.flush(), autosave.flush(), autosave.flush()]);
    expect(outside.saves.map((save) => save.revision)).toEqual([4, 5]);
    expect(outside.saves[1].recipe.weigh.width).toBe(310);
    expect(autosave.state.getState().type).toBe('saved');
  });

  it('stops at a conflict until one side is chosen: mine', async () => {
    const { outside, autosave, setWidth } = open();
    const theirs = { ...opened, name: 'Their dusk', revision: 9 };
    outside.failNext(new ApiProblem(409, 'stale', 'Changed elsewhere.', { current: theirs }));
    setWidth(200);
    await outside.rest();
    expect(autosave.state.getState()).toEqual({ type: 'conflict', theirs });
    setWidth(210);
    await outside.rest();
    expect(outside.saves).toHaveLength(1);
    await autosave.keepMine();
    expect(outside.saves[1]).toMatchObject({ revision: 9, recipe: { weigh: { width: 210 } } });
  });

  it('stops at a conflict until one side is chosen: theirs', async () => {
    const { store, outside, autosave, setWidth } = open();
    const theirs = { ...opened, name: 'Their dusk', revision: 9 };
    outside.failNext(new ApiProblem(409, 'stale', 'Changed elsewhere.', { current: theirs }));
    setWidth(200);
    await outside.rest();
    autosave.takeTheirs();
    expect(store.getState()).toMatchObject({ name: 'Their dusk', recipe });
    store.temporal.getState().undo();
    expect(store.getState().recipe.weigh.width).toBe(200);
    await outside.rest();
    expect(outside.saves.at(-1)).toMatchObject({ revision: 9, recipe: { weigh: { width: 200 } } });
  });
});

describe('undo', () => {
  it('takes back one change at a time, a whole drag as one, and the name too (seeded walk)', () => {
    const { store, setWidth } = open();
    const seen = [store.getState().recipe];
    for (let step = 1; step <= 30; step++) {
      if (step % 3 === 0) {
        for (let k = 0; k < 5; k++) {
          store.getState().preview((now) => ({ ...now, span: { start: k, end: 40 + step } }));
        }
        store.getState().keepDraft();
      } else setWidth(100 + step);
      seen.push(store.getState().recipe);
    }
    for (let step = 30; step >= 1; step--) {
      expect(store.getState().recipe).toEqual(seen[step]);
      store.temporal.getState().undo();
    }
    expect(store.getState().recipe).toEqual(recipe);
    for (let step = 1; step <= 30; step++) store.temporal.getState().redo();
    expect(store.getState().recipe).toEqual(seen[30]);
    store.getState().rename('  Late dusk ');
    store.getState().rename('   ');
    expect(store.getState().name).toBe('Late dusk');
    store.temporal.getState().undo();
    expect(store.getState().name).toBe('Dusk');
  });

  it('makes no step of a change that changes nothing', () => {
    const { store } = open();
    store.getState().change((now) => ({ ...now, span: { ...now.span } }));
    expect(store.temporal.getState().pastStates).toHaveLength(0);
  });
});
