import { expect, it } from 'vitest';
import { collectSoon } from '../src/threads/collect-garbage.js';

const LEFT = 40;

it('what a job has left behind is gone soon after it, though nothing else is asked for', async () => {
  let gone = 0;
  const registry = new FinalizationRegistry(() => gone++);
  const work = () => {
    for (let i = 0; i < LEFT; i++) registry.register(new Uint8Array(4_000_000), i);
  };
  work();
  collectSoon();
  // Asked for again before it came to it: once is enough.
  collectSoon();
  await expect.poll(() => gone, { timeout: 5000 }).toBeGreaterThanOrEqual(LEFT - 1);
});
