import type { FootageView, PondEvent, TrialView } from '@muted-pond/core/api';
import type { QueryClient } from '@tanstack/react-query';
import { connection } from './connection.js';
import { goneTrials } from './gone-trials.js';
import { isNewer, keepNewest } from './newest.js';
import { keys, mayChange } from './queries.js';
import { withLastParts } from './weaving.js';

/** Writes the server's events into the query cache. @returns a function that ends it. */
export function followEvents(client: QueryClient): () => void {
  const source = new EventSource('/api/events');
  let opened = false;
  source.onopen = () => {
    // After a reconnect, queries that may have changed are invalidated.
    if (opened) {
      connection.setState(({ reconnects }) => ({ reconnects: reconnects + 1 }));
      void client.invalidateQueries({
        predicate: ({ queryKey, state }) => mayChange(queryKey) || state.status === 'error',
      });
    }
    opened = true;
  };
  source.onmessage = (message) => takeEvent(client, JSON.parse(message.data) as PondEvent);
  return () => source.close();
}

export function takeEvent(client: QueryClient, event: PondEvent): void {
  switch (event.type) {
    case 'footage':
      client.setQueryData<FootageView>(keys.footage(event.footage), (old) =>
        old ? { ...old, strip: event.strip } : old,
      );
      break;
    case 'activity':
      void client.invalidateQueries({ queryKey: keys.activity(event.footage) });
      break;
    case 'holding':
      keepNewest(client, keys.holding(event.holding.piece), event.holding);
      break;
    case 'weaving':
      keepNewest(client, keys.weaving(event.weaving.piece), event.weaving, withLastParts);
      break;
    case 'weave-advice':
      keepNewest(client, keys.weaveAdvice(event.advice.piece), event.advice);
      break;
    case 'fit':
      keepNewest(client, keys.fit(event.fit.piece), event.fit);
      break;
    case 'sending':
      keepNewest(client, keys.sending(event.sending.piece), event.sending);
      break;
    case 'host':
      void client.invalidateQueries({ queryKey: keys.practiceHost });
      break;
    case 'kinds':
      keepNewest(client, keys.kinds(event.kinds.piece), event.kinds);
      break;
    case 'follow':
      keepNewest(client, keys.follow(event.follow.piece), event.follow);
      break;
    case 'savings':
      keepNewest(client, keys.savings(event.savings.piece, event.savings.of), event.savings);
      break;
    case 'trial':
      placeTrial(client, event.trial);
      break;
    case 'trial-gone':
      goneTrials(client).add(event.id);
      client.setQueryData<TrialView[]>(keys.trials(event.piece), (old) =>
        old?.filter((trial) => trial.id !== event.id),
      );
      break;
  }
}

/**
 * Puts a trial into its piece's list: in its old place, or at the end. What is still said of one that is gone
 * does not bring it back.
 */
export function placeTrial(client: QueryClient, trial: TrialView): void {
  if (goneTrials(client).has(trial.id)) return;
  client.setQueryData<TrialView[]>(keys.trials(trial.piece), (old) => {
    if (!old) return old;
    const at = old.findIndex((other) => other.id === trial.id);
    if (at < 0) return [...old, trial];
    return isNewer(trial, old[at]) ? old.with(at, trial) : old;
  });
  if (trial.state === 'done') void client.invalidateQueries({ queryKey: keys.shownTrials });
  else {
    // The shelf shows how far it is.
    client.setQueryData<TrialView[]>(keys.shownTrials, (old) =>
      old?.map((other) => (other.id === trial.id && isNewer(trial, other) ? trial : other)),
    );
  }
}
