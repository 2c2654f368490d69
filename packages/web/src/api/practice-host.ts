import type {
  BesideRequest,
  HostPageChange,
  HostPageView,
  HostView,
  Mood,
  SendingView,
  SendRequest,
} from '@muted-pond/core/api';
import { useQuery } from '@tanstack/react-query';
import { callApi } from './client.js';
import { keys } from './queries.js';

/** Places that loops can be sent to for practice, and the pages there. */
export const usePracticeHost = () =>
  useQuery({ queryKey: keys.practiceHost, queryFn: () => callApi<HostView>('GET', 'practice-host') });

export const setMood = (place: string, mood: Mood) =>
  callApi<void>('PUT', `practice-host/places/${place}/mood`, { mood });

export const changeHostPage = (id: string, change: HostPageChange) =>
  callApi<HostPageView>('PATCH', `practice-host/pages/${id}`, change);

/** The last sending of a piece; null where there was none. */
export const useSending = (piece: string) =>
  useQuery({
    queryKey: keys.sending(piece),
    queryFn: async () => (await callApi<SendingView | undefined>('GET', `pieces/${piece}/sending`)) ?? null,
    staleTime: Number.POSITIVE_INFINITY,
  });

export const beginSending = (piece: string, request: SendRequest) =>
  callApi<SendingView>('POST', `pieces/${piece}/sending`, request);

/** What is on its way is stopped; it may be gone on with. */
export const stopSending = async (piece: string) =>
  (await callApi<SendingView | undefined>('DELETE', `pieces/${piece}/sending`)) ?? null;

/** Finished files beside one another on one page. @returns its address. */
export const publishBeside = (request: BesideRequest) =>
  callApi<{ readonly url: string }>('POST', 'practice-host/beside', request);
