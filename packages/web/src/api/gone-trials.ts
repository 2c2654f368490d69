import type { QueryClient } from '@tanstack/react-query';

const gone = new WeakMap<QueryClient, Set<string>>();

/** Trials that were taken away since the page was opened; their ids are never used again. */
export function goneTrials(client: QueryClient): Set<string> {
  const there = gone.get(client) ?? new Set();
  gone.set(client, there);
  return there;
}
