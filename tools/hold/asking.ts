import { readFileSync } from 'node:fs';

export interface Answer<T> {
  readonly status: number;
  readonly body: T;
}

/**
 * Talks to a server that may end at any moment.
 * @returns null when no answer came: then nothing was acknowledged.
 */
export async function ask<T>(
  url: string,
  method: string,
  path: string,
  body?: unknown,
): Promise<Answer<T> | null> {
  const isBytes = body instanceof Uint8Array;
  try {
    const response = await fetch(`${url}/api/${path}`, {
      method,
      ...(body === undefined
        ? {}
        : {
            headers: { 'content-type': isBytes ? 'application/octet-stream' : 'application/json' },
            body: isBytes ? new Uint8Array(body) : JSON.stringify(body),
          }),
    });
    const text = await response.text();
    return { status: response.status, body: (text ? JSON.parse(text) : undefined) as T };
  } catch {
    return null;
  }
}

/** Resident memory of a process, MB; 0 when it is gone. */
export function residentMegabytes(pid: number): number {
  try {
    const kilobytes = /VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${pid}/status`, 'utf8'))?.[1];
    return Number(kilobytes ?? 0) / 1024;
  } catch {
    return 0;
  }
}

/** Watches a server: its memory, and how soon it answers something small. */
export function watch(url: string, pid: number) {
  const times: number[] = [];
  let mostMegabytes = 0;
  let isOver = false;
  const watching = (async () => {
    while (!isOver) {
      const from = performance.now();
      const answer = await ask(url, 'GET', 'limits');
      if (answer) times.push(performance.now() - from);
      mostMegabytes = Math.max(mostMegabytes, residentMegabytes(pid));
      await new Promise((resolve) => setTimeout(resolve, 25));
    }
  })();
  return {
    async stop() {
      isOver = true;
      await watching;
      return { times, mostMegabytes };
    },
  };
}
