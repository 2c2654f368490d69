// @vitest-environment jsdom
import { screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { describe, expect, it } from 'vitest';
import { show } from '../testing/screen.js';
import { WhyButton } from './WhyButton.js';

describe('a button', () => {
  it('that is off says why to who reaches it by key, and does nothing', async () => {
    let clicks = 0;
    const button = (off: string | null) => (
      <WhyButton off={off} onClick={() => clicks++}>
        Send
      </WhyButton>
    );
    show(button('Tick a place first.'));
    await userEvent.tab();
    const off = screen.getByRole('button', { name: 'Send' });
    expect(document.activeElement).toBe(off);
    expect(off.getAttribute('aria-disabled')).toBe('true');
    const told = document.getElementById(off.getAttribute('aria-describedby') ?? '');
    expect(told?.textContent).toBe('Tick a place first.');
    expect((await screen.findByRole('tooltip')).textContent).toBe('Tick a place first.');
    await userEvent.keyboard('{Enter}');
    await userEvent.click(off);
    expect(clicks).toBe(0);
    show(button(null));
    await userEvent.click(screen.getByRole('button', { name: 'Send' }));
    expect(clicks).toBe(1);
    expect(screen.queryByText('Tick a place first.')).toBeNull();
  });
});
