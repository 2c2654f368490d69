import type { LimitValues } from '@muted-pond/core/api';
import type { Limit } from '@muted-pond/core/recipe';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { callApi } from './client.js';
import { keys } from './queries.js';

const NO_LIMITS: readonly Limit[] = [];

/** What destinations accept; none until they are known. */
export function useLimits(): readonly Limit[] {
  const query = useQuery({ queryKey: keys.limits, queryFn: () => callApi<Limit[]>('GET', 'limits') });
  return query.data ?? NO_LIMITS;
}

export function valuesOf({ id: _, ...values }: Limit): LimitValues {
  return values;
}

/** Changes to the list; it is read again after each. */
export function useLimitChanges() {
  const client = useQueryClient();
  const again = { onSettled: () => client.invalidateQueries({ queryKey: keys.limits }) };
  const create = useMutation({
    mutationFn: (values: LimitValues) => callApi<Limit>('POST', 'limits', values),
    ...again,
  });
  const put = useMutation({
    mutationFn: (limit: Limit) => callApi<Limit>('PUT', `limits/${limit.id}`, valuesOf(limit)),
    ...again,
  });
  const remove = useMutation({
    mutationFn: (id: string) => callApi<void>('DELETE', `limits/${id}`),
    ...again,
  });
  return { create, put, remove };
}
