import type { ProblemView } from '@muted-pond/core/api';

/** What the server said was wrong: a sentence for a person, and a code for us. */
export class ApiProblem extends Error {
  override readonly name = 'ApiProblem';

  constructor(
    readonly status: number,
    readonly code: string,
    message: string,
    readonly body: unknown = null,
  ) {
    super(message);
  }
}

const UNREACHABLE = 'Muted Pond’s server does not answer. Start it again (npm start), then reload this page.';

/** Talks JSON to /api. @throws ApiProblem for everything that is not a success. */
export async function callApi<T>(method: string, path: string, body?: unknown): Promise<T> {
  let response: Response;
  try {
    response = await fetch(`/api/${path}`, {
      method,
      // A save on the way out of the page must still arrive.
      keepalive: method !== 'GET',
      ...(body === undefined
        ? {}
        : { headers: { 'content-type': 'application/json' }, body: JSON.stringify(body) }),
    });
  } catch {
    throw new ApiProblem(0, 'unreachable', UNREACHABLE);
  }
  const text = await response.text();
  const parsed = text === '' ? undefined : parseJson(text);
  if (!response.ok) throw toApiProblem(response.status, parsed);
  return parsed as T;
}

export function toApiProblem(status: number, body: unknown): ApiProblem {
  const problem = body as Partial<ProblemView> | undefined;
  return new ApiProblem(
    status,
    problem?.code ?? 'unknown',
    problem?.title ?? `The server answered with ${status}. Try again.`,
    body,
  );
}

export function parseJson(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    return undefined;
  }
}
