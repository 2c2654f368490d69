// @vitest-environment jsdom
import { weaveAdviceKey } from '@muted-pond/core/derived';
import { type JointScore, joinOf, PLAIN_CUT, type Woven } from '@muted-pond/core/loop';
import { act, fireEvent, screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { describe, expect, it, vi } from 'vitest';
import { keys } from '../../api/queries.js';
import { takeNow } from '../../piece/piece-take.js';
import type { BetterSeams } from '../../seam/seam-measure.js';
import { openedPiece, show } from '../../testing/screen.js';
import { JoinSection } from './JoinSection.js';
import { useLoopView } from './loop-view.js';
import { PaceSection } from './PaceSection.js';
import { SeamSection } from './SeamSection.js';
import { WeaveAdviceNote } from './WeaveAdviceNote.js';
import { WeaveMap } from './WeaveMap.js';

/** A joint as it is measured. */
const SEEN: JointScore = {
  ...{ score: 60, fault: 'ghost', figures: { ghost: 2, jump: 0, bend: 0 } },
  map: { columns: 2, rows: 1, values: Float32Array.of(0, 1) },
};
/** The seams of footage that was read. */
const READ = { status: 'ready' as const, found: { candidates: [], cuts: [], searchMs: 3 } as never };

const from = (start: number, end: number) =>
  openedPiece((recipe) => ({
    ...recipe,
    span: { start, end },
    weigh: { ...recipe.weigh, frameRate: 12.5 },
  }));

describe('how the end meets the start', () => {
  it('begins a crossfade at its usual length, tells what it costs, and is one step to undo', async () => {
    const piece = from(50, 100);
    show(<JoinSection />, piece);
    expect(screen.getByText(/^25 frames, 2\.00 s\./)).toBeDefined();
    await userEvent.click(screen.getByLabelText('Crossfade'));
    expect(piece.store.getState().recipe.loop.join).toEqual({ kind: 'crossfade', frames: 8 });
    expect(
      screen.getByText(/none added\. The last 8 melt into those before the start; 24 could/),
    ).toBeDefined();
    piece.store.temporal.getState().undo();
    expect(piece.store.getState().recipe.loop.join).toEqual({ kind: 'cut' });
  });

  it('cannot crossfade with frames that are not there, and says so', () => {
    show(<JoinSection />, from(0, 50));
    expect(screen.getByLabelText<HTMLInputElement>('Crossfade').disabled).toBe(true);
    expect(screen.getByText(/No frame lies before the start to crossfade with/)).toBeDefined();
  });

  it('tells of a crossfade that became too long, and shortens it on a click', async () => {
    const piece = from(10, 100);
    piece.store.getState().change((recipe) => ({
      ...recipe,
      loop: { ...recipe.loop, join: { kind: 'crossfade', frames: 20 } },
    }));
    show(<JoinSection />, piece);
    expect(screen.getByText(/20 frames were asked for; 5 lie before the start/)).toBeDefined();
    await userEvent.click(screen.getByRole('button', { name: 'Make it 5' }));
    expect(piece.store.getState().recipe.loop.join).toEqual({ kind: 'crossfade', frames: 5 });
  });

  it('tells of frames from another scene that are mixed in, and shortens to those of this one', async () => {
    const piece = from(50, 100);
    piece.store.getState().change((recipe) => ({
      ...recipe,
      loop: { ...recipe.loop, join: { kind: 'crossfade', frames: 8 } },
    }));
    show(<JoinSection />, piece);
    expect(screen.queryByText(/another scene/)).toBeNull();
    // The reel takes every second frame: those at 46 and 48 are of this scene.
    act(() => piece.seams.setState({ status: 'ready', found: { cuts: [45] } as never }));
    expect(screen.getByText(/6 of the 8 mixed frames show another scene, which lies before/)).toBeDefined();
    await userEvent.click(screen.getByRole('button', { name: 'Make it 2' }));
    expect(piece.store.getState().recipe.loop.join).toEqual({ kind: 'crossfade', frames: 2 });
    expect(screen.queryByText(/another scene/)).toBeNull();
    act(() => piece.seams.setState({ found: { cuts: [50] } as never }));
    expect(screen.getByText(/Move the start on, or join by a cut/)).toBeDefined();
  });

  it('tells how many frames the way back adds', async () => {
    show(<JoinSection />, from(50, 100));
    await userEvent.click(screen.getByLabelText('There & back'));
    expect(screen.getByText(/48 frames.*: 23 more for the way back/)).toBeDefined();
  });
});

describe('advice to weave', () => {
  it('stands for the very frames that were looked at, and goes when others are chosen', async () => {
    const piece = from(50, 150);
    const { length } = piece.seams.getState();
    const { recipe } = piece.store.getState();
    const key = weaveAdviceKey({ recipe, length, within: 'around' }, takeNow(piece));
    const advice = {
      ...{ span: recipe.span, join: joinOf({ kind: 'per-pixel' }).over(40), energy: 0.1, moving: 0.3 },
      ...{ score: 94, spread: 1.2, lengths: [] },
    };
    const place = { start: 0, end: 60, score: 40, moves: 1, rank: 30, join: PLAIN_CUT };
    const better = (isMeasured: boolean) => ({
      advice: null,
      candidates: [{ ...place, isMeasured }],
      smoothness: null,
      flowLength: null,
    });
    piece.seams.setState({ better: better(false) });
    const { client } = show(<WeaveAdviceNote />, piece);
    const tell = (view: object) =>
      act(
        () =>
          void client.setQueryData(keys.weaveAdvice('piece'), {
            piece: 'piece',
            done: 1,
            problem: null,
            advice,
            ...view,
          }),
      );
    tell({ key, state: 'working', advice: null });
    // Not before it is known that no cut is good.
    expect(screen.queryByText('Looking whether it can be woven…')).toBeNull();
    act(() => piece.seams.setState({ better: better(true) }));
    expect(await screen.findByText('Looking whether it can be woven…')).toBeDefined();
    tell({ key, state: 'done' });
    expect(await screen.findByRole('button', { name: 'Weave it' })).toBeDefined();
    // Two hundred frames around either are the first ones of the take.
    act(() => piece.store.getState().change((one) => ({ ...one, span: { start: 20, end: 40 } })));
    expect(screen.getByRole('button', { name: 'Weave it' })).toBeDefined();
    const crop = { x: 0, y: 0, width: 300, height: 200 };
    act(() => piece.store.getState().change((one) => ({ ...one, framing: { ...one.framing, crop } })));
    expect(screen.queryByRole('button', { name: 'Weave it' })).toBeNull();
    act(() => piece.store.temporal.getState().undo());
    expect(screen.getByRole('button', { name: 'Weave it' })).toBeDefined();
    tell({ key: 'of something else', state: 'done' });
    await waitFor(() => expect(screen.queryByRole('button', { name: 'Weave it' })).toBeNull());
  });
});

describe('what is woven', () => {
  const woven = (part: Partial<Woven> = {}, span = { start: 0, end: 120 }) =>
    openedPiece((recipe) => ({
      ...recipe,
      span,
      loop: {
        ...recipe.loop,
        join: { ...(joinOf({ kind: 'per-pixel' }).over(50) as Woven), ...part },
      },
    }));
  const joinNow = (piece: ReturnType<typeof woven>) => piece.store.getState().recipe.loop.join as Woven;

  it('begins over the footage around the span, as long as that was, and is one step to undo', async () => {
    const piece = from(100, 150);
    show(<JoinSection />, piece);
    await userEvent.click(screen.getByLabelText('Woven'));
    const { span, loop } = piece.store.getState().recipe;
    expect(loop.join).toMatchObject({ kind: 'per-pixel', frames: 50, liveliness: 16 });
    expect(span.end - span.start).toBe(113);
    expect(screen.getByText(/^25 frames, 2\.00 s\./)).toBeDefined();
    piece.store.temporal.getState().undo();
    expect(piece.store.getState().recipe.span).toEqual({ start: 100, end: 150 });
  });

  it('says how many frames a span lacks, and widens it on a click', async () => {
    const piece = woven({ frames: 60 }, { start: 50, end: 110 });
    show(<JoinSection />, piece);
    expect(screen.getByText(/A woven round of 60 frames needs 13 more than the span has/)).toBeDefined();
    await userEvent.click(screen.getByRole('button', { name: 'Widen the span' }));
    expect(screen.queryByText(/more than the span has/)).toBeNull();
    const { span } = piece.store.getState().recipe;
    expect(span.end - span.start).toBe(73);
  });

  it('moves more or less by its slider, over the length that is typed', async () => {
    const piece = woven();
    show(<JoinSection />, piece);
    const moves = screen.getByLabelText('How much moves, number');
    await userEvent.clear(moves);
    await userEvent.type(moves, '0{Enter}');
    expect(joinNow(piece).liveliness).toBe(2);
    const frames = screen.getByLabelText('Frames of a woven round');
    await userEvent.clear(frames);
    await userEvent.type(frames, '75{Enter}');
    expect(joinNow(piece)).toMatchObject({ frames: 75, liveliness: 2 });
  });

  it('says what was done, while it is woven anew and when that fails', async () => {
    const piece = woven({ touches: [{ moves: false, points: [[0.5, 0.5]], radius: null }] });
    const { client } = show(<JoinSection />, piece);
    expect(screen.queryByTestId('woven')).toBeNull();
    const part = {
      ...{ energy: 1, moving: 0.4, living: 0.5, spread: 0.9 },
      joint: { score: 93, step: 1.1, bend: 1, blockStep: 1 },
      weave: { plate: 77 },
    };
    const view = { piece: 'piece', key: 'k', done: 0, problem: null, parts: { reel: part } };
    const tell = (state: string, more = {}) =>
      act(() => client.setQueryData(keys.weaving('piece'), { ...view, state, ...more }));
    tell('done');
    expect((await screen.findByTestId('woven')).textContent).toContain('40 % moves, 60 % stands still');
    expect(screen.getByText(/Still parts show frame 77, found by itself/)).toBeDefined();
    tell('working');
    expect(await screen.findByText(/Weaving anew; the last one is shown/)).toBeDefined();
    tell('failed', { problem: 'The scene is cut within the span.' });
    expect((await screen.findByRole('alert')).textContent).toContain('The scene is cut');
    tell('done');
    await userEvent.click(await screen.findByRole('button', { name: 'Forget what one touch decided' }));
    expect(joinNow(piece).touches).toEqual([]);
  });

  it('has its seam measured on what was woven, and no other figure before that', async () => {
    const piece = woven();
    // Of a woven reel the signatures tell nothing.
    const seam = { ...SEEN, score: 100 };
    piece.seams.setState({ ...READ, measured: { seam, own: [] } });
    const { client } = show(<SeamSection />, piece);
    expect(screen.getByText('Its seam is measured once it is woven.')).toBeDefined();
    const tell = (score: number) => {
      const parts = { reel: { seam: { ...SEEN, score } } };
      act(() => client.setQueryData(keys.weaving('piece'), { state: 'done', parts }));
    };
    tell(93.4);
    expect((await screen.findByTestId('seam')).textContent).toMatch(/^93.*not noticed$/);
    tell(61);
    await waitFor(() =>
      expect(screen.getByTestId('seam').textContent).toMatch(/^61.*show through each other/),
    );
  });

  it('is touched on its map: a click for a part, a stroke for what it goes over', () => {
    const touched = vi.fn();
    const starts = Array.from({ length: 40 * 20 }, (_, cell) => (cell % 40 < 20 ? 5 : -1));
    const weave = {
      ...{
        id: 'w',
        length: 50,
        first: 0,
        from: 0,
        to: 120,
        cols: 40,
        rows: 20,
        across: 40,
        down: 20,
        plate: 3,
      },
      ...{ starts, rounds: starts.map(() => 1), melts: starts.map(() => 0) },
    };
    const way = { part: { x: 0, y: 0, width: 640, height: 360 }, turn: 0, mirror: false } as never;
    show(<WeaveMap weave={weave} source={7} way={way} onTouch={touched} />, woven());
    const map = screen.getByTestId('weave-map');
    map.setPointerCapture = () => {};
    map.getBoundingClientRect = () => ({ left: 0, top: 0, width: 400, height: 200 }) as DOMRect;
    fireEvent.pointerDown(map, { button: 0, clientX: 100, clientY: 100 });
    fireEvent.pointerUp(map, { clientX: 101, clientY: 100 });
    // What moves is held.
    expect(touched).toHaveBeenLastCalledWith({ moves: false, points: [[0.25, 0.5]], radius: null });
    fireEvent.pointerDown(map, { button: 0, clientX: 300, clientY: 100 });
    fireEvent.pointerMove(map, { clientX: 360, clientY: 150 });
    fireEvent.pointerUp(map, { clientX: 360, clientY: 150 });
    const [[stroke]] = touched.mock.calls.slice(-1);
    expect(stroke).toMatchObject({ moves: true, radius: 0.03 });
    expect(stroke.points).toEqual([
      [0.75, 0.5],
      [0.9, 0.75],
    ]);
  });
});

describe('the pace', () => {
  it('is set by how long the span is to last', async () => {
    const piece = from(50, 100);
    show(<PaceSection />, piece);
    const field = screen.getByLabelText('Make the span last, seconds');
    await userEvent.clear(field);
    await userEvent.type(field, '4{Enter}');
    expect(piece.store.getState().recipe.loop.speed).toBe(0.5);
  });

  it('that would leave no reel is refused with the sentence that says why', async () => {
    const piece = openedPiece((recipe) => ({
      ...recipe,
      span: { start: 0, end: 250 },
      loop: { ...recipe.loop, repeats: 25 },
      weigh: { ...recipe.weigh, frameRate: 12 },
    }));
    show(<PaceSection />, piece);
    const field = screen.getByLabelText('Speed, ×');
    await userEvent.clear(field);
    await userEvent.type(field, '0.02{Enter}');
    expect(await screen.findByText(/3000 are the most/)).toBeDefined();
    expect(piece.store.getState().recipe.loop.speed).toBe(1);
  });

  const measuredAs = (led: number, mixed: number) => ({
    ...READ,
    better: { advice: null, candidates: [], smoothness: { led, mixed }, flowLength: null },
  });

  it.each([
    [34.8, 30.3, true],
    [33, 36, false],
    [24, 20, false],
  ])('slowed becomes smooth where that does well (%f dB against %f: %s)', async (led, mixed, isGood) => {
    const piece = from(50, 100);
    piece.seams.setState(measuredAs(led, mixed));
    show(<PaceSection />, piece);
    expect(screen.queryByLabelText(/Smooth/)).toBeNull();
    const field = screen.getByLabelText('Speed, ×');
    const enter = async (speed: string) => {
      await userEvent.clear(field);
      await userEvent.type(field, `${speed}{Enter}`);
    };
    const isSmooth = () => piece.store.getState().recipe.loop.smooth;
    await enter('0.25');
    expect(isSmooth()).toBe(isGood);
    expect(
      screen.getByText(/What moves here cannot be followed well|It follows what moves here/).textContent,
    ).toContain(isGood ? 'It follows' : 'cannot be followed');
    // What was chosen stays while the speed changes below the footage’s own, and goes beyond it.
    await userEvent.click(screen.getByLabelText(/Smooth/));
    expect(isSmooth()).toBe(!isGood);
    await enter('0.5');
    expect(isSmooth()).toBe(!isGood);
    await enter('1');
    expect(isSmooth()).toBe(false);
    expect(screen.queryByLabelText(/Smooth/)).toBeNull();
  });

  it('slowed before that is known stays as it is, and offers it with how much would be made', async () => {
    const piece = from(50, 100);
    show(<PaceSection />, piece);
    const field = screen.getByLabelText('Make the span last, seconds');
    await userEvent.clear(field);
    await userEvent.type(field, '8{Enter}');
    expect(piece.store.getState().recipe.loop).toMatchObject({ speed: 0.25, smooth: false });
    // 100 pictures in 8 s at 12.5 a second; 50 frames are there, every second one of them is shown.
    expect(screen.getByText(/50 of 100 pictures would be made/)).toBeDefined();
    await userEvent.click(screen.getByLabelText(/Smooth/));
    expect(screen.getByText(/50 of 100 pictures are made/)).toBeDefined();
  });

  it('calls the rest by where it lies', async () => {
    const piece = from(50, 100);
    piece.store.getState().change((recipe) => ({
      ...recipe,
      loop: { ...recipe.loop, join: { kind: 'there-and-back' } },
    }));
    show(<PaceSection />, piece);
    expect(screen.getByText('Rest where it turns')).toBeDefined();
  });
});

describe('the seam', () => {
  const answered = (score: number, advice: BetterSeams['advice']) => {
    const piece = from(50, 100);
    const measured = { seam: { ...SEEN, score }, own: [] };
    piece.seams.setState({
      ...READ,
      measured,
      better: { advice, candidates: [], smoothness: null, flowLength: null },
    });
    return piece;
  };

  it('is told once it is measured, and if it cannot be, why', async () => {
    const piece = from(50, 100);
    piece.seams.setState(READ);
    show(<SeamSection />, piece);
    expect(screen.getByText('The seam is being measured.')).toBeDefined();
    expect(screen.queryByTestId('seam')).toBeNull();
    act(() => piece.seams.setState({ unmeasured: 'The server does not answer.' }));
    expect(screen.getByRole('alert').textContent).toBe(
      'The seam cannot be measured. The server does not answer.',
    );
    act(() => piece.seams.setState({ unmeasured: null, measured: { seam: null, own: [] } }));
    expect(screen.getByText('There is no reel to measure.')).toBeDefined();
  });

  it.each([
    ['ghost', /Two pictures show through each other/],
    ['jump', /The picture leaps/],
    ['bend', /What moves jerks/],
  ] as const)('tells what is seen of it (%s), and has the stage show where', async (fault, words) => {
    const piece = answered(68, null);
    const seam = { ...SEEN, score: 68, fault };
    piece.seams.setState({ measured: { seam, own: [] } });
    show(<SeamSection />, piece);
    expect(screen.getByTestId('seam').textContent).toMatch(words);
    await userEvent.click(screen.getByRole('button', { name: 'Point it out' }));
    expect(useLoopView.getState().look).toBe('where');
    await userEvent.click(screen.getByRole('button', { name: 'Point it out' }));
    expect(useLoopView.getState().look).toBe('play');
  });

  it('is as that of a ripple by itself, where that is seen more', () => {
    const piece = answered(95, null);
    act(() =>
      piece.seams.setState({ measured: { seam: { ...SEEN, score: 41 }, own: [{ id: 'a', score: 41 }] } }),
    );
    show(<SeamSection />, piece);
    expect(screen.getByTestId('seam').dataset.score).toBe('41.0');
  });

  it('is told in a word, and what would help is taken on a click', async () => {
    const piece = answered(45, { join: { kind: 'crossfade', frames: 6 }, score: 96, reason: 'melts' });
    show(<SeamSection />, piece);
    expect(screen.getByText(/plain to see/)).toBeDefined();
    expect(screen.getByText(/a crossfade over 6 frames/)).toBeDefined();
    await userEvent.click(screen.getByRole('button', { name: 'Take it' }));
    expect(piece.store.getState().recipe.loop.join).toEqual({ kind: 'crossfade', frames: 6 });
    expect(screen.queryByRole('button', { name: 'Take it' })).toBeNull();
  });

  it('that is good is left alone', () => {
    show(<SeamSection />, answered(97, { join: { kind: 'cut' }, score: 97, reason: 'meets' }));
    expect(screen.getByText(/not noticed/)).toBeDefined();
    expect(screen.queryByRole('button', { name: 'Point it out' })).toBeNull();
    expect(screen.queryByRole('button', { name: 'Take it' })).toBeNull();
  });

  it('of footage that cannot be read says why', () => {
    const piece = from(0, 50);
    piece.seams.setState({ status: 'failed', problem: '“kettle.mov” is gone from the disk.' });
    show(<SeamSection />, piece);
    expect(screen.getByRole('alert').textContent).toBe('“kettle.mov” is gone from the disk.');
  });

  it('moves by one frame on either side', async () => {
    const piece = answered(80, null);
    show(<SeamSection />, piece);
    await userEvent.click(screen.getByRole('button', { name: 'End one frame later' }));
    await userEvent.click(screen.getByRole('button', { name: 'Start one frame earlier' }));
    expect(piece.store.getState().recipe.span).toEqual({ start: 49, end: 101 });
  });
});
