import { expect, it } from 'vitest';
import { createPictureQueue } from './picture-queue.js';

/** Loads that end when they are told to. */
function doors() {
  const open = new Map<
    string,
    { resolve: () => void; reject: (error: Error) => void; signal: AbortSignal }
  >();
  const queue = createPictureQueue(
    (url, signal) => new Promise<void>((resolve, reject) => open.set(url, { resolve, reject, signal })),
  );
  const settled = () => new Promise((resolve) => setImmediate(resolve));
  return { open, queue, settled };
}

it('fetches two at a time, in order, and goes on after one that fails', async () => {
  const { open, queue, settled } = doors();
  const there: string[] = [];
  for (const url of ['a', 'b', 'c', 'd']) queue.want(url, () => there.push(url));
  expect([...open.keys()]).toEqual(['a', 'b']);
  open.get('b')?.resolve();
  await settled();
  expect([[...open.keys()], there]).toEqual([['a', 'b', 'c'], ['b']]);
  open.get('a')?.reject(new Error('gone'));
  open.get('c')?.resolve();
  await settled();
  open.get('d')?.resolve();
  await settled();
  expect(there).toEqual(['b', 'c', 'd']);
});

it('drops what is no longer wanted, waiting or under way', async () => {
  const { open, queue, settled } = doors();
  const there: string[] = [];
  const [dropA, , dropC] = ['a', 'b', 'c', 'd'].map((url) => queue.want(url, () => there.push(url)));
  dropC();
  dropA();
  expect(open.get('a')?.signal.aborted).toBe(true);
  open.get('a')?.resolve();
  open.get('b')?.resolve();
  await settled();
  open.get('d')?.resolve();
  await settled();
  expect(open.has('c')).toBe(false);
  expect(there).toEqual(['b', 'd']);
});
