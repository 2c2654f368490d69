import { readdirSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { expect, it } from 'vitest';

/** What may lie in the root. A file that belongs to one package, or to nobody, has no place here. */
const ALLOWED = [
  ...[
    '.gitignore',
    '.npmrc',
    'biome.json',
    'CHANGELOG.md',
    'LICENSE',
    'package-lock.json',
    'package.json',
    'README.md',
  ],
  ...['tsconfig.base.json', 'tsconfig.tests.json', 'tsconfig.tools.json', 'vitest.config.ts'],
];

it('the root holds no stray files', () => {
  const root = fileURLToPath(new URL('..', import.meta.url));
  const inRoot = readdirSync(root, { withFileTypes: true })
    .filter((entry) => entry.isFile())
    .map(({ name }) => name);
  expect(inRoot.length).toBeGreaterThan(5);
  expect(inRoot.filter((name) => !ALLOWED.includes(name))).toEqual([]);
});
