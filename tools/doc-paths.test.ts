import { readdirSync, readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { describe, expect, it } from 'vitest';

const ROOT = fileURLToPath(new URL('..', import.meta.url));
const FILES = ['packages', 'docs', 'tools', 'e2e', 'demo', 'bench'].flatMap((folder) =>
  readdirSync(`${ROOT}/${folder}`, { recursive: true, encoding: 'utf8' })
    .map((file) => `${folder}/${file}`)
    .filter((file) => !/(^|\/)(node_modules|dist)\//.test(file)),
);
const DOCS = ['README.md', 'CHANGELOG.md', ...FILES.filter((file) => /^docs\/.*\.md$/.test(file))];

/** Paths of the source as docs name them: two or more names, without blanks, flags or placeholders. */
const PATH = /`([a-z][a-z0-9-]*(?:\/[\w.<>-]+)+)`/g;
/** Addresses, folders of a server's data, and packages, which look alike. */
const NOT_OURS = /^(api|oembed|blobs|image|video|application|text)\//;

/** Whether the names of a path stand in a file's own in that order; `<name>` stands for any. */
function isPathOf(file: string, path: string): boolean {
  const names = path.split('/').filter((name) => !name.includes('<'));
  let from = 0;
  return names.every((name) => {
    const at = file.indexOf(name, from);
    from = at + name.length;
    return at >= 0;
  });
}

describe('a path that a document names', () => {
  it('leads to a file that is there', () => {
    const named = DOCS.flatMap((doc) =>
      [...readFileSync(`${ROOT}/${doc}`, 'utf8').matchAll(PATH)].map(([, path]) => ({ doc, path })),
    ).filter(({ path }) => !NOT_OURS.test(path));
    expect(named.length).toBeGreaterThan(50);
    const lost = named.filter(({ path }) => !FILES.some((file) => isPathOf(file, path)));
    expect(lost).toEqual([]);
  });

  it('is missed where its names stand in another order or not at all', () => {
    expect(isPathOf('packages/server/src/jobs/run-in-thread.ts', 'jobs/run-in-thread')).toBe(true);
    expect(isPathOf('packages/server/src/jobs/run-in-thread.ts', 'work/run-in-thread')).toBe(false);
    expect(isPathOf('packages/server/src/jobs/run-in-thread.ts', 'run-in-thread/jobs')).toBe(false);
    expect(isPathOf('packages/core/src/files/gif/kind.ts', 'core/files/<kind>')).toBe(true);
  });
});
