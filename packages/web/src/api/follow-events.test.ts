import { QueryClient } from '@tanstack/react-query';
import { afterEach, beforeEach, expect, it, vi } from 'vitest';
import { connection } from './connection.js';
import { followEvents } from './events.js';
import { keys } from './queries.js';

/** Streams that were opened; a browser opens a broken one again by itself. */
let streams: ScriptedStream[] = [];

class ScriptedStream {
  onopen: (() => void) | null = null;
  onmessage: ((message: { data: string }) => void) | null = null;
  closed = false;
  constructor(readonly url: string) {
    streams.push(this);
  }
  close(): void {
    this.closed = true;
  }
  tell(event: object): void {
    this.onmessage?.({ data: JSON.stringify(event) });
  }
}

beforeEach(() => {
  streams = [];
  vi.stubGlobal('EventSource', ScriptedStream);
  connection.setState({ reconnects: 0 });
});
afterEach(() => vi.unstubAllGlobals());

function followed() {
  const client = new QueryClient();
  const end = followEvents(client);
  const [stream] = streams;
  return {
    client,
    end,
    stream,
    isStale: (key: readonly unknown[]) => client.getQueryState(key)?.isInvalidated,
  };
}

it('news of the stream flow into what was asked before, until it is ended', () => {
  const { client, stream, end } = followed();
  expect(stream.url).toBe('/api/events');
  stream.onopen?.();
  stream.tell({ type: 'fit', fit: { piece: 'p', state: 'working', revision: 1 } });
  expect(client.getQueryData(keys.fit('p'))).toMatchObject({ state: 'working' });
  end();
  expect(stream.closed).toBe(true);
});

it('the first connection is no gap: nothing is read again', () => {
  const { client, stream, isStale } = followed();
  client.setQueryData(keys.pieces, []);
  stream.onopen?.();
  expect(connection.getState().reconnects).toBe(0);
  expect(isStale(keys.pieces)).toBe(false);
});

it('after a gap, what may have changed is read again, and what failed', async () => {
  const { client, stream, isStale } = followed();
  stream.onopen?.();
  client.setQueryData(keys.pieces, []);
  client.setQueryData(keys.trials('p'), []);
  client.setQueryData(keys.piece('p'), { id: 'p' });
  client.setQueryData(keys.times('f'), { starts: [0] });
  await client
    .fetchQuery({
      queryKey: keys.motion('f', 0, 9),
      retry: false,
      queryFn: () => Promise.reject(new Error('gone')),
    })
    .catch(() => {});
  stream.onopen?.();
  expect(connection.getState().reconnects).toBe(1);
  expect([keys.pieces, keys.trials('p'), keys.motion('f', 0, 9)].map(isStale)).toEqual([true, true, true]);
  // An opened piece is the truth itself, and times are those of bytes that never change.
  expect([keys.piece('p'), keys.times('f')].map(isStale)).toEqual([false, false]);
  stream.onopen?.();
  expect(connection.getState().reconnects).toBe(2);
});
