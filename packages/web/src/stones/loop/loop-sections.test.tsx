// @vitest-environment jsdom
import { screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { describe, expect, it } from 'vitest';
import { openedPiece, show } from '../../testing/screen.js';
import type { SeamAnswer } from '../../workers/seam-work.js';
import { JoinSection } from './JoinSection.js';
import { PaceSection } from './PaceSection.js';
import { SeamSection } from './SeamSection.js';

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

  it('tells how many frames the way back adds', async () => {
    show(<JoinSection />, from(50, 100));
    await userEvent.click(screen.getByLabelText('There & back'));
    expect(screen.getByText(/48 frames.*: 23 more for the way back/)).toBeDefined();
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
  const answered = (score: number, advice: SeamAnswer['advice']) => {
    const piece = from(50, 100);
    const answer = { seam: { score, jump: 1.5 }, advice, searchMs: 3 } as SeamAnswer;
    piece.seams.setState({ status: 'ready', answer });
    return piece;
  };

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
