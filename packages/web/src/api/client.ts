import type { ProblemView } from '@muted-pond/core/api';
import { UserError, type UserErrorCode } from '@muted-pond/core/errors';

/** What the server said was wrong: a sentence for a person, and a code for us. */
export class ApiProblem extends UserError {
  override readonly name = 'ApiProblem';

  constructor(
    readonly status: number,
    code: UserErrorCode,
    message: string,
    readonly body: unknown = null,
  ) {
    super(code, message);
  }
}

const UNREACHABLE = 'Muted Pond’s server does not answer. Start it again (npm start), then reload this page.';

/** Browsers bound the bodies of all `keepalive` requests together to 64 KiB. */
export const MOST_OUTLIVING_BYTES = 48 * 1024;

export interface CallOptions {
  /**
   * The page is being closed: the request should outlive it (`keepalive`). A larger body is sent without
   * that.
   */
  readonly leaving?: boolean;
}

/** Talks JSON to /api. @throws ApiProblem for everything that is not a success. */
export async function callApi<T>(
  method: string,
  path: string,
  body?: unknown,
  { leaving = false }: CallOptions = {},
): Promise<T> {
  const json = body === undefined ? undefined : JSON.stringify(body);
  const response = await reach(path, {
    method,
    keepalive: leaving && canOutlive(json ?? ''),
    ...(json === undefined ? {} : { headers: { 'content-type': 'application/json' }, body: json }),
  });
  const text = await response.text();
  const parsed = text === '' ? undefined : parseJson(text);
  if (!response.ok) throw toApiProblem(response.status, parsed);
  return parsed as T;
}

/**
 * What is no JSON.
 * @throws ApiProblem for everything that is not a success; an AbortError when it was stopped.
 */
export async function fetchBytes(path: string, signal?: AbortSignal): Promise<ArrayBuffer> {
  const response = await reach(path, signal ? { signal } : {});
  if (!response.ok) throw toApiProblem(response.status, parseJson(await response.text()));
  return response.arrayBuffer();
}

/**
 * What is no JSON, for a question that is.
 * @throws ApiProblem for everything that is not a success.
 */
export async function callBytes(method: string, path: string, body: unknown): Promise<ArrayBuffer> {
  const response = await reach(path, {
    method,
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify(body),
  });
  if (!response.ok) throw toApiProblem(response.status, parseJson(await response.text()));
  return response.arrayBuffer();
}

async function reach(path: string, options: RequestInit): Promise<Response> {
  try {
    return await fetch(`/api/${path}`, options);
  } catch (error) {
    if (options.signal?.aborted) throw error;
    throw new ApiProblem(0, 'unreachable', UNREACHABLE);
  }
}

export function canOutlive(json: string): boolean {
  return new TextEncoder().encode(json).length <= MOST_OUTLIVING_BYTES;
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
