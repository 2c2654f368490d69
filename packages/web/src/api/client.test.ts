import { afterEach, describe, expect, it, vi } from 'vitest';
import { ApiProblem, callApi, fetchBytes, MOST_OUTLIVING_BYTES } from './client.js';

afterEach(() => vi.unstubAllGlobals());

/** A server that answers as it is told; what it was sent. */
function answering(status: number, body: unknown) {
  const sent: RequestInit[] = [];
  vi.stubGlobal('fetch', async (_: string, init: RequestInit) => {
    sent.push(init);
    return new Response(JSON.stringify(body), { status });
  });
  return sent;
}

describe('a call', () => {
  it('outlives the page only on the way out, and only where browsers let it: else a large save would fail', async () => {
    const sent = answering(200, {});
    const large = { recipe: 'x'.repeat(MOST_OUTLIVING_BYTES) };
    await callApi('PUT', 'pieces/p', { name: 'small' });
    await callApi('PUT', 'pieces/p', large);
    await callApi('PUT', 'pieces/p', large, { leaving: true });
    await callApi('PUT', 'pieces/p', { name: 'small' }, { leaving: true });
    expect(sent.map(({ keepalive }) => keepalive)).toEqual([false, false, false, true]);
    expect(JSON.parse(String(sent[2].body))).toEqual(large);
  });

  it('says what the server says is wrong', async () => {
    answering(422, { code: 'out_of_range', title: 'The span ends too late.' });
    await expect(callApi('PUT', 'pieces/p', {})).rejects.toMatchObject({
      status: 422,
      code: 'out_of_range',
      message: 'The span ends too late.',
    });
    vi.stubGlobal('fetch', () => Promise.reject(new TypeError('Failed to fetch')));
    await expect(callApi('GET', 'pieces')).rejects.toThrow(ApiProblem);
    await expect(callApi('GET', 'pieces')).rejects.toThrow('does not answer');
  });
});

describe('bytes', () => {
  it('come as they are', async () => {
    vi.stubGlobal('fetch', async () => new Response(new Uint8Array([7, 0, 255])));
    expect([...new Uint8Array(await fetchBytes('footage/f/activity'))]).toEqual([7, 0, 255]);
  });

  it('that are refused or not reached say why in the words of the server, or that it does not answer', async () => {
    answering(410, { code: 'file_gone', title: '“pond.mp4” is gone from the disk.' });
    await expect(fetchBytes('footage/f/signatures')).rejects.toMatchObject({
      code: 'file_gone',
      message: '“pond.mp4” is gone from the disk.',
    });
    vi.stubGlobal('fetch', () => Promise.reject(new TypeError('Failed to fetch')));
    await expect(fetchBytes('footage/f/signatures')).rejects.toThrow('does not answer');
  });

  it('that are no longer wanted end as stopped, not as a server that is gone', async () => {
    const stopped = new AbortController();
    stopped.abort();
    vi.stubGlobal('fetch', async (_: string, { signal }: RequestInit) => signal?.throwIfAborted());
    await expect(fetchBytes('footage/f/signatures', stopped.signal)).rejects.toMatchObject({
      name: 'AbortError',
    });
  });
});
