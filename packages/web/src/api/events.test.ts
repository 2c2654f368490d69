import type { FootageView, PondEvent, TrialView } from '@muted-pond/core/api';
import { QueryClient } from '@tanstack/react-query';
import { describe, expect, it } from 'vitest';
import { seeded, wholeFrom } from '../../../core/src/testing/seeded.js';
import { placeTrial, takeEvent } from './events.js';
import { keepNewest, withNewest } from './newest.js';
import { keys, mayChange } from './queries.js';

const trial = (id: string, state: TrialView['state'], revision = 1) =>
  ({ id, piece: 'p', state, revision }) as TrialView;

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

describe('what is told late', () => {
  const stateOf = (client: QueryClient, key: readonly unknown[]) =>
    client.getQueryData<{ state: string }>(key)?.state;

  it.each([
    ['fit', keys.fit('p')],
    ['kinds', keys.kinds('p')],
    ['follow', keys.follow('p')],
    ['holding', keys.holding('p')],
    ['sending', keys.sending('p')],
    ['weaving', keys.weaving('p')],
    ['savings', keys.savings('p', 'settings')],
  ] as const)('of %s does not take the place of what is newer, by event or by answer', (type, key) => {
    const client = new QueryClient();
    const view = (state: string, revision: number) => ({ piece: 'p', of: 'settings', state, revision });
    const hear = (state: string, revision: number) =>
      takeEvent(client, { type, [type]: view(state, revision) } as unknown as PondEvent);
    hear('working', 4);
    hear('done', 6);
    hear('working', 5);
    expect(stateOf(client, key)).toBe('done');
    // The answer to the request that began it.
    keepNewest(client, key, view('working', 3));
    expect(stateOf(client, key)).toBe('done');
    hear('working', 7);
    expect(stateOf(client, key)).toBe('working');
  });

  it('of advice to weave does not begin it again', () => {
    const client = new QueryClient();
    const advice = (state: string, revision: number) =>
      takeEvent(client, { type: 'weave-advice', advice: { piece: 'p', state, revision } } as PondEvent);
    advice('done', 2);
    advice('working', 1);
    expect(stateOf(client, keys.weaveAdvice('p'))).toBe('done');
  });

  it('of a trial leaves it as it is, in its list and on the shelf', () => {
    const client = new QueryClient();
    client.setQueryData(keys.trials('p'), [trial('a', 'failed', 9)]);
    client.setQueryData(keys.shownTrials, [trial('a', 'failed', 9)]);
    placeTrial(client, trial('a', 'working', 8));
    expect(client.getQueryData<TrialView[]>(keys.trials('p'))).toEqual([trial('a', 'failed', 9)]);
    expect(client.getQueryData<TrialView[]>(keys.shownTrials)).toEqual([trial('a', 'failed', 9)]);
    placeTrial(client, trial('a', 'waiting', 10));
    expect(client.getQueryData<TrialView[]>(keys.trials('p'))?.[0].state).toBe('waiting');
  });
});

describe('an answered list of trials', () => {
  it('takes nothing back that was told since it was made', () => {
    const told = [trial('a', 'done', 7), trial('b', 'working', 3), trial('c', 'waiting', 8)];
    const answer = [trial('a', 'working', 5), trial('b', 'done', 6)];
    expect(withNewest(told, answer)).toEqual([told[0], answer[1], told[2]]);
  });

  it('drops what the server had no more when it was made', () => {
    const answer = [trial('b', 'done', 6)];
    expect(withNewest([trial('a', 'done', 4), trial('b', 'done', 5)], answer)).toEqual(answer);
    expect(withNewest([trial('a', 'done', 4)], [])).toEqual([]);
    expect(withNewest(undefined, answer)).toEqual(answer);
  });

  it('holds the newest of each, whatever came first (50 seeds)', () => {
    for (let seed = 1; seed <= 50; seed++) {
      const random = seeded(seed);
      // One history of tellings; the answer holds each trial as it was at one moment, in their order.
      const history = Array.from({ length: 30 }, (_, i) =>
        trial(`t${wholeFrom(random, 0, 5)}`, random() < 0.5 ? 'working' : 'done', i + 1),
      );
      const at = wholeFrom(random, 6, 29);
      const lastOf = (list: TrialView[]) => [...new Map(list.map((one) => [one.id, one])).values()];
      const newest = new Map(lastOf(history).map((one) => [one.id, one]));
      const merged = withNewest(lastOf(history), lastOf(history.slice(0, at)));
      expect(merged, `seed ${seed}`).toHaveLength(newest.size);
      for (const one of merged) expect(one, `seed ${seed}`).toEqual(newest.get(one.id));
    }
  });
});
