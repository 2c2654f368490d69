import { execFileSync } from 'node:child_process';
import { fileURLToPath } from 'node:url';
import { expect, it } from 'vitest';

/** What may lie in the root. A file that belongs to one package, or to nobody, has no place here. */
const ALLOWED = [
  ...['.gitignore', '.npmrc', 'biome.json', 'LICENSE', 'package-lock.json', 'package.json', 'README.md'],
  ...['tsconfig.base.json', 'tsconfig.tests.json', 'tsconfig.tools.json', 'vitest.config.ts'],
];

it('the root holds no stray files', () => {
  const root = fileURLToPath(new URL('..', import.meta.url));
  const names = execFileSync('git', ['ls-files', '-z'], { cwd: root, encoding: 'utf8' }).split('\0');
  const inRoot = names.filter((name) => name !== '' && !name.includes('/'));
  expect(inRoot.length).toBeGreaterThan(5);
  expect(inRoot.filter((name) => !ALLOWED.includes(name))).toEqual([]);
});
