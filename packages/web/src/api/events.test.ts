import type { FootageView, TrialView } from '@muted-pond/core/api';
import { QueryClient } from '@tanstack/react-query';
import { expect, it } from 'vitest';
import { placeTrial, takeEvent } from './events.js';
import { keys, mayChange } from './queries.js';

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

it('what is still said of a trial that is gone does not bring it back', () => {
  const client = new QueryClient();
  client.setQueryData(keys.trials('p'), [trial('a', 'working'), trial('b', 'done')]);
  takeEvent(client, { type: 'trial-gone', piece: 'p', id: 'a' });
  takeEvent(client, { type: 'trial', trial: trial('a', 'working') });
  placeTrial(client, trial('a', 'waiting'));
  expect(client.getQueryData<TrialView[]>(keys.trials('p'))?.map(({ id }) => id)).toEqual(['b']);
});

it.each([
  [keys.trials('p'), true],
  [keys.pieces, true],
  [keys.practiceHost, true],
  [keys.footage('f'), true],
  [keys.piece('p'), false],
  [keys.times('f'), false],
  [keys.motion('f', 0, 9), false],
  [['open-files', ['f']], false],
])('after a gap, %j is read again: %s', (key, isRead) => {
  expect(mayChange(key)).toBe(isRead);
});
