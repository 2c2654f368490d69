// @vitest-environment jsdom
import type { Limit } from '@muted-pond/core/recipe';
import { act, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { beforeEach, describe, expect, it } from 'vitest';
import { resetPieceViews } from '../../store/piece-view.js';
import { openedPiece, show, whyOff } from '../../testing/screen.js';
import { FrameSection } from './FrameSection.js';
import { SpanSection } from './SpanSection.js';

const STORY: Limit = {
  ...{ id: 'story', name: 'Story', width: 360, height: 640, bytes: 900_000 },
  ...{ seconds: null, frameRate: null, alpha: false, kinds: null },
};

const button = (name: string | RegExp) => screen.getByRole('button', { name });
const field = (label: string) => screen.getByLabelText<HTMLInputElement>(label);
async function enter(label: string, typed: string): Promise<void> {
  await userEvent.clear(field(label));
  await userEvent.type(field(label), `${typed}{Enter}`);
}

describe('the span', () => {
  /** Frames 50 to 99 of 250, at 25 frames a second. */
  function opened(answers = {}) {
    const piece = openedPiece((recipe) => ({ ...recipe, span: { start: 50, end: 100 } }));
    show(<SpanSection />, piece, { answers });
    return { piece, span: () => piece.store.getState().recipe.span };
  }

  it('says its beginning, end and length in seconds and in frames', () => {
    opened();
    const shown = ['Start', 'End', 'Length'].map((what) => [
      field(`${what}, seconds`).value,
      field(`${what}, ${what === 'Length' ? 'frames' : 'frame'}`).value,
    ]);
    expect(shown).toEqual([
      ['2.00 s', '50'],
      ['4.00 s', '100'],
      ['2.00 s', '50'],
    ]);
  });

  it('is moved by a typed start, and cut by a typed end', async () => {
    const { span } = opened();
    await enter('Start, seconds', '3');
    expect(span()).toEqual({ start: 75, end: 125 });
    await enter('End, frame', '90');
    expect(span()).toEqual({ start: 75, end: 90 });
    await enter('Length, seconds', '1');
    expect(span()).toEqual({ start: 75, end: 100 });
    await enter('Length, frames', '7');
    expect(span()).toEqual({ start: 75, end: 82 });
  });

  it('refuses what lies outside of the footage, and says so', async () => {
    const { span } = opened();
    await userEvent.clear(field('End, frame'));
    await userEvent.type(field('End, frame'), '251');
    expect(await screen.findByText('250 is the most here.')).toBeDefined();
    await userEvent.tab();
    expect(span()).toEqual({ start: 50, end: 100 });
    expect(field('End, frame').value).toBe('100');
  });

  it('begins or ends at the frame on the stage, or is so many frames from it', async () => {
    const { piece, span } = opened();
    act(() => piece.session.getState().seek(60));
    await userEvent.click(button(/^Start here/));
    expect(span()).toEqual({ start: 60, end: 100 });
    act(() => piece.session.getState().seek(79));
    await userEvent.click(button(/^End here/));
    expect(span()).toEqual({ start: 60, end: 80 });
    await enter('Frames from here', '12');
    await userEvent.click(button('frames'));
    expect(span()).toEqual({ start: 79, end: 91 });
    act(() => piece.session.getState().seek(245));
    expect(whyOff(button('frames'))).toBe('5 frames are left from here. Enter fewer, or go back.');
  });

  it('takes the calmest stretch once the footage is looked through', async () => {
    const { piece, span } = opened({
      // Much moves, but for a second and a half after the sixth.
      [`GET footage/${'a'.repeat(64)}/activity`]: activityOf((frame) => (frame > 150 && frame < 190 ? 0 : 6)),
    });
    const calm = await screen.findByRole('button', { name: 'Take the calmest 2.00 s' });
    expect(whyOff(calm)).toBeNull();
    await userEvent.click(calm);
    expect(span().end - span().start).toBe(50);
    expect(span().start).toBeLessThan(190);
    expect(span().end).toBeGreaterThan(150);
    act(() => piece.store.temporal.getState().undo());
    expect(span()).toEqual({ start: 50, end: 100 });
  });

  it('says that the footage is still being looked through', async () => {
    opened();
    expect(whyOff(await screen.findByRole('button', { name: 'Looking for what moves…' }))).toContain(
      'still being looked through',
    );
  });
});

/** Activity as the server sends it: movement, a camera that strays with it, and light. */
function activityOf(moves: (frame: number) => number): Uint8Array {
  const figures = Float32Array.from({ length: 250 * 4 }, (_, i) => {
    const frame = i >> 2;
    return i % 4 === 0 ? moves(frame) : i % 4 === 1 ? moves(frame) * (frame % 2 ? 1 : -1) : 0;
  });
  return new Uint8Array(figures.buffer);
}

describe('the frame', () => {
  beforeEach(resetPieceViews);

  function opened() {
    const piece = openedPiece();
    show(<FrameSection />, piece, { answers: { 'GET limits': [STORY] } });
    return { piece, framing: () => piece.store.getState().recipe.framing };
  }

  it('is cropped by numbers; all of the picture is no crop', async () => {
    const { framing } = opened();
    await enter('Crop width', '300');
    expect(framing().crop).toEqual({ x: 0, y: 0, width: 300, height: 360 });
    await enter('Crop from the left', '340');
    expect(framing().crop).toMatchObject({ x: 340 });
    await enter('Crop from the left', '0');
    await enter('Crop width', '640');
    expect(framing().crop).toBeNull();
  });

  it('keeps a shape: the other side follows', async () => {
    const { framing } = opened();
    await userEvent.click(screen.getByText('1:1'));
    expect(framing().crop).toEqual({ x: 140, y: 0, width: 360, height: 360 });
    await enter('Crop height', '200');
    expect(framing().crop).toMatchObject({ width: 200, height: 200 });
  });

  it('takes the numbers of a limit, the file’s width too', async () => {
    const { piece, framing } = opened();
    await userEvent.click(screen.getByRole('combobox', { name: 'Shape of a limit' }));
    await userEvent.click(await screen.findByRole('option', { name: 'Story · 360 × 640' }));
    const { crop } = framing();
    expect((crop?.width ?? 0) / (crop?.height ?? 1)).toBeCloseTo(360 / 640, 2);
    expect(piece.store.getState().recipe.weigh.width).toBe(360);
    expect(screen.getByRole('status').textContent).toContain('Nothing is enlarged');
  });

  it('is turned and seen in a mirror, the same part of the picture staying in it', async () => {
    const { framing } = opened();
    await enter('Crop width', '300');
    const { crop } = framing();
    await userEvent.click(button('A quarter turn to the right'));
    expect(framing()).toMatchObject({ turn: 90, crop });
    await userEvent.click(screen.getByLabelText('Mirror'));
    await userEvent.click(button('A quarter turn to the right'));
    // In a mirror, to the right is to the left.
    expect(framing()).toMatchObject({ turn: 0, mirror: true, crop });
  });
});
