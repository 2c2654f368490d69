import type { ProblemView } from '@muted-pond/core/api';
import { UserError } from '@muted-pond/core/errors';

/** @param gone said where it is not there, and the server says nothing. */
export async function fetchWhole(url: string, gone: string): Promise<Response> {
  const response = await fetch(url);
  if (response.ok) return response;
  const problem = (await response.json().catch(() => null)) as Partial<ProblemView> | null;
  throw new UserError(problem?.code ?? 'file_gone', problem?.title ?? gone);
}
