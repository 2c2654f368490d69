import { availableParallelism } from 'node:os';
import { defaultClientConditions, defaultServerConditions } from 'vite';
import { defineConfig } from 'vitest/config';

const source = '@muted-pond/source';

export default defineConfig({
  resolve: { conditions: [source, ...defaultClientConditions] },
  ssr: { resolve: { conditions: [source, ...defaultServerConditions] } },
  test: {
    include: ['packages/*/src/**/*.test.{ts,tsx}', 'packages/*/test/**/*.test.ts', 'tools/*.test.ts'],
    testTimeout: 60_000,
    hookTimeout: 60_000,
    // What is waited for happens in other threads and processes, on machines that do much else.
    expect: { poll: { timeout: 20_000 } },
    // Left alone, two cores would run one file at a time; most files wait for other processes half the time.
    maxWorkers: Math.max(2, availableParallelism() - 1),
  },
});
