// @vitest-environment jsdom
import type { FollowView } from '@muted-pond/core/api';
import { CAPTION_STARTS, newCaption, UNDRESSED } from '@muted-pond/core/dress';
import { act, screen, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { beforeEach, describe, expect, it } from 'vitest';
import { openedPiece, show } from '../../testing/screen.js';
import { CaptionsBank } from './captions/CaptionsBank.js';
import { setDressView } from './dress-view.js';
import { EdgeBank } from './edge/EdgeBank.js';
import { OverlayGround } from './OverlayGround.js';
import { outcomeWords, VeilsBank } from './veils/VeilsBank.js';
import { newVeil } from './veils/veil-edits.js';

beforeEach(() => setDressView({ chosen: null, typing: null, tab: 'captions', paints: false }));

const withCaptions = (...texts: string[]) =>
  openedPiece((recipe) => ({
    ...recipe,
    dress: {
      ...UNDRESSED,
      captions: texts.map((text) => ({ ...newCaption(CAPTION_STARTS.below, text), text })),
    },
  }));

describe('captions in the bank', () => {
  it('begin from one of a few, chosen at once, for the whole loop and without a fade', async () => {
    const workspace = openedPiece();
    show(<CaptionsBank />, workspace);
    await userEvent.click(screen.getByRole('button', { name: 'A big word' }));
    const [caption] = workspace.store.getState().recipe.dress.captions;
    expect(caption).toMatchObject({ text: 'OPEN', time: null, fadeCs: 0 });
    expect(screen.getByLabelText('Words of the caption')).toHaveProperty('value', 'OPEN');
    expect(screen.getByText('The whole loop')).toBeTruthy();
  });

  it('are open on the picture with their words selected, before they are laid out there', async () => {
    const workspace = openedPiece();
    const size = { width: 640, height: 360 };
    show(
      <>
        <CaptionsBank />
        <OverlayGround shown={size} frame={size} blocks={[]} />
      </>,
      workspace,
    );
    const words = () => workspace.store.getState().recipe.dress.captions.map(({ text }) => text);
    await userEvent.click(screen.getByRole('button', { name: 'A line below' }));
    const field = screen.getByLabelText('Words on the picture') as HTMLTextAreaElement;
    expect(document.activeElement).toBe(field);
    expect(field.value.slice(field.selectionStart, field.selectionEnd)).toBe('Your words');
    // What is typed at once takes their place.
    await userEvent.keyboard('Closing time');
    await userEvent.keyboard('{Escape}');
    expect(words()).toEqual(['Closing time']);
    expect(screen.queryByLabelText('Words on the picture')).toBeNull();
    // One more, from the menu, is open as well.
    await userEvent.click(screen.getByRole('button', { name: 'Another caption' }));
    await userEvent.click(await screen.findByRole('menuitem', { name: 'A big word' }));
    await userEvent.keyboard('TEA');
    await userEvent.tab();
    expect(words()).toEqual(['Closing time', 'TEA']);
  });

  it('are typed into as one undo step, and control characters are told of', async () => {
    const workspace = withCaptions('Tea');
    setDressView({ chosen: 'Tea' });
    show(<CaptionsBank />, workspace);
    const field = screen.getByLabelText('Words of the caption');
    await userEvent.type(field, ' time');
    await userEvent.tab();
    expect(workspace.store.getState().recipe.dress.captions[0].text).toBe('Tea time');
    workspace.store.temporal.getState().undo();
    expect(workspace.store.getState().recipe.dress.captions[0].text).toBe('Tea');
    await userEvent.click(field);
    await userEvent.paste('x\u0007y');
    expect(screen.getByText(/Control characters were left out/)).toBeTruthy();
  });

  it('are hidden, moved, copied and taken away, and can be put back', async () => {
    const workspace = withCaptions('One', 'Two');
    show(<CaptionsBank />, workspace);
    const names = () => workspace.store.getState().recipe.dress.captions.map(({ text }) => text);
    // The highest stands first.
    const list = screen.getByRole('list', { name: 'Captions, the highest first' });
    expect(within(list).getAllByRole('listitem')[0].textContent).toContain('Two');
    await userEvent.click(within(list).getByRole('button', { name: 'One' }));
    await userEvent.click(screen.getByRole('button', { name: '“One” higher' }));
    expect(names()).toEqual(['Two', 'One']);
    await userEvent.click(screen.getByRole('button', { name: 'Hide “Two”' }));
    expect(workspace.store.getState().recipe.dress.captions[0].shown).toBe(false);
    await userEvent.click(screen.getByRole('button', { name: '“One” once more' }));
    expect(names()).toEqual(['Two', 'One', 'One']);
    await userEvent.click(screen.getByRole('button', { name: 'Take “One” away' }));
    expect(names()).toEqual(['Two', 'One']);
    await userEvent.click(await screen.findByRole('button', { name: 'Put it back' }));
    expect(names()).toEqual(['Two', 'One', 'One']);
  });

  it('are given a time, from here and until here', async () => {
    const workspace = withCaptions('Tea');
    setDressView({ chosen: 'Tea' });
    show(<CaptionsBank />, workspace);
    await userEvent.click(screen.getByText('A part of it'));
    const timeNow = () => workspace.store.getState().recipe.dress.captions[0].time;
    expect(timeNow()?.fromCs).toBe(0);
    workspace.session.getState().seekReel(10, 20);
    await userEvent.click(await screen.findByRole('button', { name: 'From here' }));
    const from = timeNow()?.fromCs ?? 0;
    expect(from).toBeGreaterThan(50);
    workspace.session.getState().seekReel(12, 24);
    await userEvent.click(screen.getByRole('button', { name: 'Until here' }));
    expect(timeNow()?.fromCs).toBe(from);
    expect(timeNow()?.toCs).toBeGreaterThan(from);
    expect(screen.getByLabelText('Time to come and to go')).toBeTruthy();
  });
});

describe('the edge in the bank', () => {
  it('lays a border of two pixels and round corners, and takes them away', async () => {
    const workspace = openedPiece();
    show(<EdgeBank />, workspace);
    const dress = () => workspace.store.getState().recipe.dress;
    await userEvent.click(screen.getByLabelText('A border on every frame'));
    expect(dress().border).toEqual({ width: 2, colour: '#16302e' });
    await userEvent.click(screen.getByLabelText('Round corners'));
    expect(dress().corners).toEqual({ radius: 16, fill: 'transparent' });
    await userEvent.click(screen.getByLabelText('A border on every frame'));
    expect(dress()).toMatchObject({ border: null, corners: { radius: 16 } });
  });
});

describe('veils in the bank', () => {
  it('that hide nothing in this loop are told of, until they do', async () => {
    const place = { x: 0.2, y: 0.2, width: 0.2, height: 0.2 };
    const idle = {
      ...newVeil('v', 'rectangle', place, 0, null),
      name: 'Number plate',
      span: { start: 0, end: 20 },
    };
    const workspace = openedPiece((recipe) => ({
      ...recipe,
      span: { start: 20, end: 60 },
      dress: { ...UNDRESSED, veils: [idle] },
    }));
    show(<VeilsBank />, workspace);
    expect(screen.getByTestId('idle-veils').textContent).toContain('“Number plate” hides nothing');
    act(() => workspace.store.getState().change((recipe) => ({ ...recipe, span: { start: 10, end: 60 } })));
    expect(screen.queryByTestId('idle-veils')).toBeNull();
  });

  it('say how far they were followed', () => {
    const view = { lostAt: null, handSetAt: null, way: 'forwards' } as FollowView;
    expect(outcomeWords(view)).toBe('Followed to the end');
    expect(outcomeWords({ ...view, way: 'backwards' })).toBe('Followed to the beginning');
    expect(outcomeWords({ ...view, handSetAt: 30 })).toBe('Followed to the place set by hand at frame 30');
    expect(outcomeWords({ ...view, lostAt: 12 })).toBe('Lost at frame 12');
  });

  it('hide from the first moment, and say when they could be undone', async () => {
    const workspace = openedPiece();
    setDressView({ tab: 'veils' });
    show(<VeilsBank />, workspace);
    await userEvent.click(screen.getByRole('button', { name: 'A rectangle' }));
    const veil = () => workspace.store.getState().recipe.dress.veils[0];
    expect(veil()).toMatchObject({ shape: 'rectangle', effect: 'blocks', shown: true, span: null });
    expect(screen.queryByText(/worked out again/)).toBeNull();
    const strength = screen.getByLabelText('Strength, %');
    await userEvent.clear(strength);
    await userEvent.type(strength, '5{Enter}');
    expect(screen.getByText(/worked out again/)).toBeTruthy();
    await userEvent.click(screen.getByText('Plain'));
    expect(screen.queryByText(/worked out again/)).toBeNull();
  });

  it('lie on frames from here until here', async () => {
    const workspace = openedPiece();
    show(<VeilsBank />, workspace);
    await userEvent.click(screen.getByRole('button', { name: 'An ellipse' }));
    workspace.session.getState().seek(40);
    await userEvent.click(await screen.findByRole('button', { name: 'From here' }));
    workspace.session.getState().seek(90);
    await userEvent.click(screen.getByRole('button', { name: 'Until here' }));
    expect(workspace.store.getState().recipe.dress.veils[0].span).toEqual({ start: 40, end: 91 });
  });
});
