// @vitest-environment jsdom
import type { Limit } from '@muted-pond/core/recipe';
import { screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { expect, it } from 'vitest';
import { show } from '../testing/screen.js';
import { type Call, changesIn, Refusal } from '../testing/scripted-server.js';
import { LimitsPage } from './LimitsPage.js';

const CHAT: Limit = {
  ...{ id: 'chat', name: 'Chat square', width: 480, height: 480, bytes: 900_000 },
  ...{ seconds: null, frameRate: 15, alpha: false, kinds: ['gif', 'webp'] },
};
const SHOP: Limit = {
  ...{ id: 'shop', name: 'Shop banner', width: 728, height: null, bytes: 2_000_000 },
  ...{ seconds: 15, frameRate: null, alpha: true, kinds: null },
};

/** The page over a server that keeps what it is sent. */
async function opened(refused: Readonly<Record<string, Refusal>> = {}) {
  const list = new Map([CHAT, SHOP].map((one) => [one.id, one]));
  const put = ({ path, body }: Call) => {
    const id = path.replace('limits/', '');
    list.set(id, { ...(body as Limit), id });
    return list.get(id);
  };
  const { calls } = show(<LimitsPage />, null, {
    answers: {
      'GET limits': () => [...list.values()],
      'POST limits': ({ body }: Call) => put({ method: 'PUT', path: 'limits/fresh', body }),
      'PUT limits/chat': put,
      'PUT limits/shop': put,
      'DELETE limits/chat': () => (list.delete('chat') ? null : undefined),
      ...refused,
    },
  });
  await screen.findByDisplayValue('Chat square');
  return { list, changes: () => changesIn(calls) };
}

const field = (label: string) => screen.getByLabelText<HTMLInputElement>(label);

async function enter(label: string, typed: string): Promise<void> {
  await userEvent.clear(field(label));
  if (typed !== '') await userEvent.type(field(label), typed);
  await userEvent.tab();
}

it('a number counts when its field is left, in the units of the file', async () => {
  const { changes } = await opened();
  await enter('Weight that Chat square accepts, KB', '750');
  const { id: _, ...values } = CHAT;
  expect(changes()).toEqual([{ method: 'PUT', path: 'limits/chat', body: { ...values, bytes: 750_000 } }]);
  await waitFor(() => expect(field('Weight that Chat square accepts, KB').value).toBe('750 KB'));
});

it('an empty field accepts anything, but a weight and a width there must be', async () => {
  const { changes } = await opened();
  await enter('Height that Chat square accepts, px', '');
  await enter('Frame rate that Chat square accepts', '');
  expect(changes().map(({ body }) => body)).toMatchObject([{ height: null }, { frameRate: null }]);
  await waitFor(() => expect(field('Frame rate that Chat square accepts').value).toBe(''));
  await enter('Width that Chat square accepts, px', '');
  expect(changes()).toHaveLength(2);
  expect(field('Width that Chat square accepts, px').value).toBe('480 px');
});

it('a number that is left as it was, or taken back by Escape, sends nothing', async () => {
  const { changes } = await opened();
  await enter('Length that Shop banner accepts, seconds', '15');
  await userEvent.clear(field('Width that Shop banner accepts, px'));
  await userEvent.type(field('Width that Shop banner accepts, px'), '300{Escape}');
  await userEvent.tab();
  expect(changes()).toEqual([]);
  expect(field('Width that Shop banner accepts, px').value).toBe('728 px');
});

it('whether transparency is allowed, and which kinds are taken, are ticked', async () => {
  const { changes } = await opened();
  await userEvent.click(field('Chat square accepts transparent files'));
  expect(changes()[0].body).toMatchObject({ alpha: true, kinds: ['gif', 'webp'] });
  await userEvent.click(screen.getByRole('combobox', { name: 'Kinds that Shop banner accepts' }));
  await userEvent.click(await screen.findByRole('option', { name: 'AVIF' }));
  expect(changes()[1]).toMatchObject({ path: 'limits/shop', body: { kinds: ['avif'] } });
});

it('a name is typed over; an empty one goes back', async () => {
  const { changes } = await opened();
  await enter('Name of Chat square', 'Chat, large');
  expect(changes()).toMatchObject([{ path: 'limits/chat', body: { name: 'Chat, large' } }]);
  await screen.findByDisplayValue('Chat, large');
  await enter('Name of Shop banner', '');
  expect(changes()).toHaveLength(1);
  expect(field('Name of Shop banner').value).toBe('Shop banner');
});

it('one is added with numbers to begin with, and one that was deleted is put back whole', async () => {
  const { changes, list } = await opened();
  await userEvent.click(screen.getByRole('button', { name: 'Add a destination' }));
  await screen.findByDisplayValue('New destination');
  expect(changes()[0]).toMatchObject({ method: 'POST', body: { width: 480, bytes: 500_000, kinds: null } });
  await userEvent.click(screen.getByRole('button', { name: 'Delete Chat square' }));
  await waitFor(() => expect(screen.queryByDisplayValue('Chat square')).toBeNull());
  const notice = await screen.findByText('“Chat square” is no longer a limit');
  await userEvent.click(
    within(notice.closest('[role=alert]') as HTMLElement).getByRole('button', { name: 'Put it back' }),
  );
  await screen.findByDisplayValue('Chat square');
  expect(list.get('chat')).toEqual(CHAT);
});

it('what the server refuses is told, and the list stays as it was', async () => {
  const { list } = await opened({ 'PUT limits/chat': new Refusal(422, 'A limit of that name is there.') });
  await enter('Weight that Chat square accepts, KB', '10');
  await screen.findByText('A limit of that name is there.');
  expect(list.get('chat')).toEqual(CHAT);
  expect(field('Weight that Chat square accepts, KB').value).toBe('900 KB');
});
