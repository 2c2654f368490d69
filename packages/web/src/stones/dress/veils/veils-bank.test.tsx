// @vitest-environment jsdom
import type { FollowView } from '@muted-pond/core/api';
import { UNDRESSED, type Veil, type VeilKey } from '@muted-pond/core/dress';
import { act, screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { beforeEach, describe, expect, it } from 'vitest';
import { takeEvent } from '../../../api/events.js';
import { openedPiece, show } from '../../../testing/screen.js';
import { type Answers, changesIn, Refusal } from '../../../testing/scripted-server.js';
import { setDressView } from '../dress-view.js';
import { VeilsBank } from './VeilsBank.js';
import { newVeil } from './veil-edits.js';

beforeEach(() => setDressView({ tab: 'veils', chosen: null, paints: false }));

const key = (frame: number, by: VeilKey['by'] = 'hand'): VeilKey => ({
  ...{ x: 0.2, y: 0.2, width: 0.2, height: 0.2, frame, by },
});

/** A piece whose loop runs over the first 75 frames, with one veil. */
function opened(part: Partial<Veil> = {}, answers: Answers = {}) {
  const veil: Veil = {
    ...newVeil('v', 'rectangle', key(0), 0, null),
    name: 'Plate',
    keys: [key(10)],
    ...part,
  };
  const piece = openedPiece((recipe) => ({
    ...recipe,
    span: { start: 0, end: 75 },
    dress: { ...UNDRESSED, veils: [veil] },
  }));
  setDressView({ chosen: 'v' });
  const shown = show(<VeilsBank />, piece, { answers });
  const now = () => piece.store.getState().recipe.dress.veils;
  const undoSteps = () => piece.store.temporal.getState().pastStates.length;
  const hear = (follow: Partial<FollowView>) =>
    act(() => takeEvent(shown.client, { type: 'follow', follow: { ...FOLLOW, ...follow } }));
  return { ...shown, piece, now, undoSteps, hear, changes: () => changesIn(shown.calls) };
}

const FOLLOW: FollowView = {
  ...{ piece: 'piece', key: 'k', state: 'working', done: 0.3, problem: null, revision: 5 },
  ...{ veil: 'v', frame: 10, way: 'forwards', keys: [], confidence: [], lostAt: null, handSetAt: null },
};
const click = (name: string) => userEvent.click(screen.getByRole('button', { name }));

describe('a veil', () => {
  it('begins in the middle of what is seen, on the frame of the stage, and is chosen', async () => {
    const { now, piece, undoSteps } = opened();
    act(() => piece.session.getState().seek(42));
    await click('An ellipse');
    const made = now().at(-1);
    expect(made).toMatchObject({ shape: 'ellipse', span: null, keys: [{ frame: 42, by: 'hand' }] });
    const [at] = made?.keys ?? [];
    expect(at.x + at.width / 2).toBeCloseTo(0.5, 6);
    expect(undoSteps()).toBe(1);
    expect(screen.getByText('1 place set')).toBeDefined();
  });

  it('warns where what it hides could be worked out again, until it is plain', async () => {
    opened({ strength: 3 });
    expect(screen.getByText(/can be made out or worked out again/)).toBeDefined();
    await userEvent.click(screen.getByText('Plain'));
    expect(screen.queryByText(/can be made out/)).toBeNull();
    expect(screen.getByLabelText('Colour of the veil')).toBeDefined();
  });

  it('says that it hides nothing where it lies beside the loop', async () => {
    opened({ span: { start: 100, end: 120 } });
    expect((await screen.findByTestId('idle-veils')).textContent).toContain('“Plate” hides nothing');
  });

  it('lies from the frame on the stage, until the frame on the stage, or on all', async () => {
    const { now, piece } = opened();
    act(() => piece.session.getState().seek(20));
    await click('From here');
    expect(now()[0].span).toEqual({ start: 20, end: 250 });
    act(() => piece.session.getState().seek(60));
    await click('Until here');
    expect(now()[0].span).toEqual({ start: 20, end: 61 });
    // An end before the beginning takes the beginning along.
    act(() => piece.session.getState().seek(5));
    await click('Until here');
    expect(now()[0].span).toEqual({ start: 5, end: 6 });
    const last = screen.getByLabelText('Last frame it lies on');
    await userEvent.clear(last);
    await userEvent.type(last, '249{Enter}');
    const first = screen.getByLabelText('First frame it lies on');
    await userEvent.clear(first);
    await userEvent.type(first, '0{Enter}');
    expect(now()[0].span).toBeNull();
  });
});

describe('following', () => {
  it('is asked for from the frame on the stage, and lays down what was found as one undo step', async () => {
    const { changes, hear, now, piece, undoSteps } = opened({}, { 'POST pieces/piece/follow': FOLLOW });
    act(() => piece.session.getState().seek(10));
    await click('Follow on →');
    expect(changes()[0].body).toMatchObject({ veil: 'v', frame: 10, way: 'forwards' });
    await screen.findByText('following forwards');
    const found = [10, 11, 12].map((frame) => key(frame, 'following'));
    hear({ state: 'done', done: 1, revision: 6, keys: found, confidence: [1, 0.9, 0.8] });
    expect((await screen.findByTestId('followed')).textContent).toBe('Followed to the end, 90 % sure. ');
    expect(now()[0].keys.map(({ frame }) => frame)).toContain(12);
    expect(undoSteps()).toBe(1);
    // The same news once more lays nothing down again.
    act(() => piece.store.temporal.getState().undo());
    hear({ state: 'done', done: 1, revision: 6, keys: found, confidence: [1, 0.9, 0.8] });
    expect(now()[0].keys).toHaveLength(1);
  });

  it('can be stopped, and says why it could not be done', async () => {
    const { changes } = opened(
      {},
      {
        'POST pieces/piece/follow': FOLLOW,
        'DELETE pieces/piece/follow': null,
      },
    );
    await click('← Follow back');
    await screen.findByRole('button', { name: 'Stop' });
    await click('Stop');
    await screen.findByRole('button', { name: 'Follow on →' });
    expect(changes().map(({ method }) => method)).toEqual(['POST', 'DELETE']);
    const { hear } = opened();
    hear({ state: 'failed', problem: 'Nothing is there to follow. Lay the veil elsewhere.' });
    expect((await screen.findByRole('alert')).textContent).toContain('Nothing is there to follow');
  });

  it('tells where it was lost, or where a hand had set it, and goes there', async () => {
    const { hear, piece } = opened();
    hear({ state: 'done', confidence: [0.5], lostAt: 33 });
    await screen.findByText(/Lost at frame 33, 50 % sure/);
    act(() => piece.session.getState().setPlaying(true));
    await click('Go there, set it right, and follow on');
    expect(piece.session.getState()).toMatchObject({ playhead: 33, playing: false });
    hear({ state: 'done', revision: 9, confidence: [1], handSetAt: 40, way: 'backwards' });
    await screen.findByText(/Followed to the place set by hand at frame 40/);
    await click('Go there, and follow back from it');
    expect(piece.session.getState().playhead).toBe(40);
  });

  it('is refused in the server’s words', async () => {
    const refusal = new Refusal(422, 'Pictures do not move: there is nothing to follow.');
    opened({}, { 'POST pieces/piece/follow': refusal });
    await click('Follow on →');
    await screen.findByText(refusal.title);
  });
});

describe('the places of a veil', () => {
  const keys = [key(10), key(20, 'following'), key(30), key(40, 'following')];

  it('that following found can be thrown away, those of a hand stay', async () => {
    const { now } = opened({ keys });
    expect(screen.getByText(/4 places set/)).toBeDefined();
    await click('keep only hand-set ones');
    expect(now()[0].keys.map(({ frame }) => frame)).toEqual([10, 30]);
  });

  it('where none is of a hand, the one on the stage stays', async () => {
    const { now, piece } = opened({ keys: [10, 20, 30].map((frame) => key(frame, 'following')) });
    act(() => piece.session.getState().seek(20));
    await click('keep only hand-set ones');
    expect(now()[0].keys.map(({ frame }) => frame)).toEqual([20]);
  });

  it('can be taken away one by one, and the last one stays', async () => {
    const { now, piece } = opened({ keys });
    expect(screen.queryByText('take this frame’s away')).toBeNull();
    act(() => piece.session.getState().seek(30));
    await click('take this frame’s away');
    expect(now()[0].keys.map(({ frame }) => frame)).toEqual([10, 20, 40]);
    const { now: alone, piece: other } = opened();
    act(() => other.session.getState().seek(10));
    await waitFor(() => expect(screen.getByText('1 place set')).toBeDefined());
    expect(screen.queryByText('take this frame’s away')).toBeNull();
    expect(alone()[0].keys).toHaveLength(1);
  });
});
