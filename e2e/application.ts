import { test as base } from '@playwright/test';
import { type ServerProcess, startServer } from '../tools/server-process.js';

/** Tests against the built application with the demo data, one server for all of a worker's tests. */
export const test = base.extend<{ url: string }, { server: ServerProcess }>({
  server: [
    // biome-ignore lint/correctness/noEmptyPattern: Playwright wants the pattern
    async ({}, use) => {
      const server = await startServer({ demo: true });
      await use(server);
      await server.stop();
    },
    { scope: 'worker', timeout: 60_000 },
  ],
  url: async ({ server }, use) => use(server.url),
});

export { expect } from '@playwright/test';
