import { vi } from 'vitest';

/** A request as the page made it; the path is without `/api/`. */
export interface Call {
  readonly method: string;
  readonly path: string;
  readonly body: unknown;
}

/** An answer that is no success. */
export class Refusal {
  constructor(
    readonly status: number,
    readonly title: string,
    readonly more: object = {},
  ) {}
}

/** What each request is answered, by its method and path: a value, or what gives one. */
export type Answers = Readonly<Record<string, unknown | ((call: Call) => unknown)>>;

/**
 * Stands for the server: answers what it has an answer for, in JSON or as bytes, and refuses everything else
 * with 404.
 * @returns all requests, in their order.
 */
export function scriptedServer(answers: Answers): Call[] {
  const calls: Call[] = [];
  vi.stubGlobal('fetch', async (url: string, { method = 'GET', body }: RequestInit = {}) => {
    const path = url.replace(/^\/api\//, '');
    const call: Call = { method, path, body: typeof body === 'string' ? JSON.parse(body) : (body ?? null) };
    calls.push(call);
    const known = answers[`${method} ${path}`] ?? answers[`${method} ${path.split('?')[0]}`];
    const answer = typeof known === 'function' ? known(call) : known;
    if (answer === undefined) return problem(new Refusal(404, `Nothing is at ${path}.`));
    if (answer instanceof Refusal) return problem(answer);
    if (answer instanceof Uint8Array) return new Response(answer as Uint8Array<ArrayBuffer>);
    return new Response(answer === null ? null : JSON.stringify(answer), {
      status: answer === null ? 204 : 200,
    });
  });
  return calls;
}

function problem({ status, title, more }: Refusal): Response {
  return new Response(JSON.stringify({ title, code: 'request_refused', ...more }), { status });
}

/** Those of the calls that change something. */
export const changesIn = (calls: readonly Call[]) => calls.filter(({ method }) => method !== 'GET');
