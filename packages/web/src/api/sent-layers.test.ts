import { expect, it, vi } from 'vitest';
import { ApiProblem } from './client.js';
import { rememberSent, withLayers } from './sent-layers.js';

const lost = (...missing: string[]) => new ApiProblem(422, 'layers_missing', 'Gone.', { missing });

it('what the server has lost is sent again, and the call is made once more', async () => {
  const sent: string[] = [];
  const again = async (_: Blob, name: string) => void sent.push(name);
  rememberSent('a', new Blob(['a']), 'paint a', again);
  rememberSent('b', new Blob(['b']), 'paint b', again);
  const call = vi.fn().mockRejectedValueOnce(lost('a', 'b')).mockResolvedValueOnce('saved');
  expect(await withLayers(call)).toBe('saved');
  expect([sent, call.mock.calls.length]).toEqual([['paint a', 'paint b'], 2]);
});

it('what is not here any more, or is wrong for another reason, is told as it is, after one try', async () => {
  for (const error of [lost('a', 'never sent'), new ApiProblem(409, 'stale', 'Changed.'), new Error('x')]) {
    const call = vi.fn().mockRejectedValue(error);
    await expect(withLayers(call)).rejects.toBe(error);
    expect(call).toHaveBeenCalledTimes(1);
  }
  const always = vi.fn().mockRejectedValue(lost('a'));
  await expect(withLayers(always)).rejects.toMatchObject({ code: 'layers_missing' });
  expect(always).toHaveBeenCalledTimes(2);
});
