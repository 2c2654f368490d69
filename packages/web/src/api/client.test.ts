import { afterEach, describe, expect, it, vi } from 'vitest';
import { ApiProblem, callApi, MOST_OUTLIVING_BYTES } from './client.js';

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
