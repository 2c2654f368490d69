// @vitest-environment jsdom
import { SIGNATURE_BYTES } from '@muted-pond/core/motion';
import type { Recipe } from '@muted-pond/core/recipe';
import { act, waitFor } from '@testing-library/react';
import { beforeEach, expect, it, vi } from 'vitest';
import { useTake } from '../piece/piece-take.js';
import { useWorkspace } from '../piece/workspace-context.js';
import { openedPiece, show } from '../testing/screen.js';
import type { SeamWorker } from './seam-client.js';
import { ALL_MOVES, type SeamMessage, type SeamReply } from './seam-work.js';
import { useSeamKeeper } from './use-seam-keeper.js';

/** Workers that were opened, with what they were told. */
let workers: ScriptedWorker[] = [];

class ScriptedWorker implements SeamWorker {
  readonly told: SeamMessage[] = [];
  ended = false;
  onmessage: SeamWorker['onmessage'] = null;
  onerror: SeamWorker['onerror'] = null;
  constructor() {
    workers.push(this);
  }
  postMessage(message: SeamMessage): void {
    this.told.push(message);
  }
  terminate(): void {
    this.ended = true;
  }
  questions() {
    return this.told.filter((message) => message.type === 'question');
  }
  reply(...parts: SeamReply[]): void {
    for (const data of parts) act(() => this.onmessage?.({ data } as MessageEvent<SeamReply>));
  }
  /** Answers the question that was put last. */
  answer(): void {
    const id = this.questions().at(-1)?.id as number;
    this.reply(this.found(), { type: 'measured', id, measured: { seam: null, own: [] } });
  }
  found(): SeamReply {
    return { type: 'found', found: { id: this.questions().at(-1)?.id } as never };
  }
  crash(): void {
    act(() => this.onerror?.({ message: 'out of memory' } as ErrorEvent));
  }
}

const movingPlaces = async () => ALL_MOVES;

function Keeper() {
  const { store, seams } = useWorkspace();
  useSeamKeeper({ store, seams, take: useTake(), movingPlaces });
  return null;
}

beforeEach(() => {
  workers = [];
  vi.stubGlobal('Worker', ScriptedWorker);
});

/** A piece whose footage is answered by the server, from a frame to another; `frames` of them at most. */
function opened(frames = Number.POSITIVE_INFINITY) {
  const piece = openedPiece();
  const shown = show(null, piece);
  const asked: string[] = [];
  vi.stubGlobal('fetch', async (path: string) => {
    asked.push(path);
    const { searchParams } = new URL(path, 'http://pond.test');
    const count = Number(searchParams.get('to')) - Number(searchParams.get('from'));
    return new Response(new Uint8Array(Math.min(count, frames) * SIGNATURE_BYTES));
  });
  shown.rerender(shown.inside(<Keeper />));
  const change = (next: (recipe: Recipe) => Recipe) => act(() => piece.store.getState().change(next));
  return { ...shown, piece, asked, change, state: () => piece.seams.getState() };
}

const cropped = (recipe: Recipe): Recipe => ({
  ...recipe,
  framing: { ...recipe.framing, crop: { x: 0, y: 0, width: 300, height: 200 } },
});

it('seams are looked for once the footage is read, and stand until something that they depend on changes', async () => {
  const { state, change } = opened();
  await waitFor(() => expect(workers).toHaveLength(1));
  const [worker] = workers;
  expect(worker.told.map(({ type }) => type)).toEqual(['footage', 'question']);
  worker.answer();
  expect(state()).toMatchObject({ status: 'ready', stale: false, isMeasureStale: false, found: { id: 1 } });
  change((recipe) => ({ ...recipe, plays: 4, weigh: { ...recipe.weigh, width: 200 } }));
  expect(worker.questions()).toHaveLength(1);
  change(cropped);
  // Those before stay on the screen until the new ones are there.
  expect(state()).toMatchObject({ stale: true, isMeasureStale: true, found: { id: 1 } });
  expect(worker.questions().at(-1)?.recipe.framing.crop).toMatchObject({ width: 300 });
  worker.answer();
  expect(state()).toMatchObject({ status: 'ready', stale: false, isMeasureStale: false, found: { id: 2 } });
});

it('one question is asked at a time, then the newest', async () => {
  const { change, piece } = opened();
  await waitFor(() => expect(workers).toHaveLength(1));
  const [worker] = workers;
  for (const end of [100, 110, 120]) change((recipe) => ({ ...recipe, span: { start: 50, end } }));
  act(() => piece.seams.getState().lookWithin('span'));
  expect(worker.questions()).toHaveLength(1);
  worker.answer();
  expect(worker.questions().slice(1)).toMatchObject([
    { within: 'span', recipe: { span: { start: 50, end: 120 } } },
  ]);
});

it('a worker that ends again and again is told of, and the next change tries once more', async () => {
  const { state, change } = opened();
  await waitFor(() => expect(workers).toHaveLength(1));
  for (let crash = 0; crash < 3; crash++) workers[crash].crash();
  expect(state().status).toBe('failed');
  expect(state().problem).toContain('ended again and again');
  expect(workers).toHaveLength(3);
  change(cropped);
  expect(workers).toHaveLength(4);
  workers[3].answer();
  expect(state()).toMatchObject({ status: 'ready', problem: null });
});

it('what cannot be read is told of, and nothing is looked for', async () => {
  const piece = openedPiece();
  show(<Keeper />, piece);
  await waitFor(() => expect(piece.seams.getState().status).toBe('failed'));
  expect(piece.seams.getState().problem).toMatch(/\.$/);
  expect(workers).toEqual([]);
});

it('footage that the server still goes through is waited for', async () => {
  const { state, asked } = opened(20);
  await waitFor(() => expect(asked.length).toBeGreaterThan(0));
  expect(state().status).toBe('reading');
  expect(workers).toEqual([]);
});

it('the worker ends with the piece', async () => {
  const { unmount, state } = opened();
  await waitFor(() => expect(workers).toHaveLength(1));
  expect(state().findRounds).not.toBeNull();
  unmount();
  expect(workers[0].ended).toBe(true);
  expect(state().findRounds).toBeNull();
});

it('what is found stands before the joint is measured, and a joint that was measured until there is another', async () => {
  const { state, change } = opened();
  await waitFor(() => expect(workers).toHaveLength(1));
  const [worker] = workers;
  worker.reply(worker.found());
  expect(state()).toMatchObject({ status: 'ready', found: { id: 1 }, measured: null });
  worker.answer();
  const better = { advice: null, candidates: [], smoothness: null, flowLength: null };
  worker.reply({ type: 'better', id: 1, better });
  expect(state().better).toBe(better);
  change(cropped);
  worker.reply(worker.found());
  expect(state()).toMatchObject({ stale: false, isMeasureStale: true, better: null });
  expect(state().measured).not.toBeNull();
  worker.answer();
  expect(state().isMeasureStale).toBe(false);
});

it.each([
  ['a joint', false],
  ['what would be better than a joint that is measured', true],
])('%s cannot be measured: it is told, and tried again after pauses, not for ever', async (_, isSeen) => {
  const { state, change } = opened();
  await waitFor(() => expect(workers).toHaveLength(1));
  const [worker] = workers;
  vi.useFakeTimers();
  try {
    const fail = () => {
      const id = worker.questions().at(-1)?.id as number;
      const measured = isSeen ? [{ type: 'measured' as const, id, measured: { seam: null, own: [] } }] : [];
      worker.reply(worker.found(), ...measured, { type: 'unmeasured', id, problem: 'It is gone.' });
    };
    fail();
    expect(state()).toMatchObject({ unmeasured: 'It is gone.', measured: null });
    for (const [pauses, asked] of [
      [2000, 2],
      [8000, 3],
      [30_000, 4],
    ]) {
      act(() => void vi.advanceTimersByTime(pauses - 1));
      expect(worker.questions()).toHaveLength(asked - 1);
      act(() => void vi.advanceTimersByTime(1));
      expect(worker.questions()).toHaveLength(asked);
      fail();
    }
    act(() => void vi.advanceTimersByTime(3_600_000));
    expect(worker.questions()).toHaveLength(4);
    change(cropped);
    expect(worker.questions()).toHaveLength(5);
    worker.answer();
    expect(state()).toMatchObject({ unmeasured: null });
  } finally {
    vi.useRealTimers();
  }
});
