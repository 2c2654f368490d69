import { afterEach, describe, expect, it, vi } from 'vitest';
import { takenAs } from './upload.js';

afterEach(() => vi.unstubAllGlobals());

const answer = (body: string, headers: Record<string, string> = {}) => ({
  getBody: () => body,
  getHeader: (name: string) => headers[name],
});

describe('a complete upload', () => {
  it('is the footage that the answer to its last part tells', async () => {
    expect(await takenAs(answer('{"id": "f", "name": "pond.mp4"}'))).toEqual({ id: 'f', name: 'pond.mp4' });
  });

  it('whose last answer was lost is the footage that the server took it as', async () => {
    const asked: string[] = [];
    vi.stubGlobal('fetch', async (path: string) => {
      asked.push(path);
      return new Response('{"id": "f", "name": "pond.mp4"}');
    });
    expect(await takenAs(answer('', { 'Upload-Footage': 'f' }))).toMatchObject({ id: 'f' });
    expect(asked).toEqual(['/api/footage/f']);
  });

  it('of which nothing is told has broken off', async () => {
    expect(await takenAs(answer(''))).toBeNull();
  });
});
