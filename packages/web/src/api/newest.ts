import type { ToldView } from '@muted-pond/core/api';
import type { QueryClient } from '@tanstack/react-query';

/** Whether a view was told after another one; whatever is told is newer than nothing. */
export function isNewer(next: ToldView, old: ToldView | null | undefined): boolean {
  return !old || next.revision >= old.revision;
}

/**
 * Keeps a view under its key, unless a newer one is there: answers and events come by two connections, and
 * either may arrive first.
 * @param join what of the old view stands beside the next one.
 * @returns the view that stands there now.
 */
export function keepNewest<View extends ToldView>(
  client: QueryClient,
  key: readonly unknown[],
  next: View,
  join: (old: View | null | undefined, next: View) => View = (_, it) => it,
): View {
  const old = client.getQueryData<View | null>(key);
  if (old && !isNewer(next, old)) return old;
  const joined = join(old, next);
  client.setQueryData<View>(key, joined);
  return joined;
}

/**
 * A list as it was answered, and what has been told of it since the server made the answer: newer views of the same
 * things, and things that came after.
 */
export function withNewest<View extends ToldView & { readonly id: string }>(
  told: readonly View[] | undefined,
  answer: readonly View[],
): View[] {
  const answeredAt = Math.max(...answer.map(({ revision }) => revision));
  const known = new Map(told?.map((view) => [view.id, view]));
  const newest = answer.map((view) => {
    const old = known.get(view.id);
    return old && !isNewer(view, old) ? old : view;
  });
  const ids = new Set(answer.map(({ id }) => id));
  const since =
    answer.length === 0
      ? []
      : (told ?? []).filter(({ id, revision }) => !ids.has(id) && revision > answeredAt);
  return [...newest, ...since];
}
