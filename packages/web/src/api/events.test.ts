import type { FootageView, TrialView } from '@muted-pond/core/api';
import { QueryClient } from '@tanstack/react-query';
import { expect, it } from 'vitest';
import { takeEvent } from './events.js';
import { keys } from './queries.js';

const trial = (id: string, state: TrialView['state']) => ({ id, piece: 'p', state }) as TrialView;

it('news of trials flow into the list of their piece: changed, added, taken away', () => {
  const client = new QueryClient();
  takeEvent(client, { type: 'trial', trial: trial('a', 'working') });
  expect(client.getQueryData(keys.trials('p'))).toBeUndefined();
  client.setQueryData(keys.trials('p'), [trial('a', 'working')]);
  takeEvent(client, { type: 'trial', trial: trial('a', 'done') });
  takeEvent(client, { type: 'trial', trial: trial('b', 'waiting') });
  expect(client.getQueryData<TrialView[]>(keys.trials('p'))?.map(({ id, state }) => [id, state])).toEqual([
    ['a', 'done'],
    ['b', 'waiting'],
  ]);
  takeEvent(client, { type: 'trial-gone', piece: 'p', id: 'a' });
  expect(client.getQueryData<TrialView[]>(keys.trials('p'))?.map(({ id }) => id)).toEqual(['b']);
});

it('news of a strip change only its footage', () => {
  const client = new QueryClient();
  const strip = { count: 48, made: 3 };
  client.setQueryData(keys.footage('f'), { id: 'f', strip: { count: 48, made: 0 } });
  takeEvent(client, { type: 'footage', footage: 'f', strip });
  takeEvent(client, { type: 'footage', footage: 'g', strip });
  expect(client.getQueryData<FootageView>(keys.footage('f'))?.strip).toEqual(strip);
  expect(client.getQueryData(keys.footage('g'))).toBeUndefined();
});
