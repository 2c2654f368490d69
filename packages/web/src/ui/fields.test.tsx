// @vitest-environment jsdom
import { screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { describe, expect, it, vi } from 'vitest';
import { show } from '../testing/screen.js';
import { ChoiceRow } from './ChoiceRow.js';
import { NumberEntry } from './NumberEntry.js';
import { SliderRow } from './SliderRow.js';

describe('a number that is typed', () => {
  it('counts when it is entered, not before', async () => {
    const entered = vi.fn();
    show(<NumberEntry label="Plays" value={3} max={10} onEnter={entered} />);
    const field = screen.getByLabelText('Plays');
    await userEvent.clear(field);
    await userEvent.type(field, '7');
    expect(entered).not.toHaveBeenCalled();
    await userEvent.keyboard('{Enter}');
    expect(entered).toHaveBeenCalledExactlyOnceWith(7);
  });

  it('that cannot be is said with the bound, and changes nothing', async () => {
    const entered = vi.fn();
    show(<NumberEntry label="Plays" value={3} min={1} max={10} suffix=" times" onEnter={entered} />);
    const field = screen.getByLabelText('Plays');
    await userEvent.clear(field);
    await userEvent.type(field, '99{Enter}');
    expect(entered).not.toHaveBeenCalled();
    expect(await screen.findByText(/10 times is the most here/)).toBeDefined();
  });

  it('is left as it was by Escape', async () => {
    const entered = vi.fn();
    show(<NumberEntry label="Plays" value={3} max={10} onEnter={entered} />);
    const field = screen.getByLabelText<HTMLInputElement>('Plays');
    await userEvent.clear(field);
    await userEvent.type(field, '8{Escape}');
    await userEvent.tab();
    expect(entered).not.toHaveBeenCalled();
    expect(field.value).toBe('3');
  });
});

describe('a slider with its number', () => {
  it('moves by keys, a step at a time, and tells when the hand lets go', async () => {
    const changed = vi.fn();
    show(<SliderRow label="Width" unit=" px" value={100} min={10} max={200} step={2} onChange={changed} />);
    screen.getByRole('slider', { name: 'Width' }).focus();
    await userEvent.keyboard('{ArrowRight}');
    expect(changed).toHaveBeenLastCalledWith(102);
  });

  it('takes by its number what the slider cannot reach', async () => {
    const changed = vi.fn();
    show(
      <SliderRow
        label="Speed"
        unit=" ×"
        value={1}
        min={0.25}
        max={4}
        widest={[0.01, 100]}
        onChange={changed}
      />,
    );
    const field = screen.getByLabelText('Speed, ×');
    await userEvent.clear(field);
    await userEvent.type(field, '20{Enter}');
    expect(changed).toHaveBeenCalledWith(20);
  });
});

describe('a choice', () => {
  it('gives the value of the name that was chosen', async () => {
    const changed = vi.fn();
    const names = { auto: 'As many as pay', loop: 'One for the loop' };
    show(<ChoiceRow label="Palettes" names={names} value="auto" onChange={changed} />);
    await userEvent.click(screen.getByRole('combobox', { name: 'Palettes' }));
    await userEvent.click(await screen.findByRole('option', { name: 'One for the loop' }));
    expect(changed).toHaveBeenCalledWith('loop');
  });
});
