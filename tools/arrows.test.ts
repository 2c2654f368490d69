import { expect, it } from 'vitest';
import { faultOf, findCircle, readArrows } from './arrows.js';
import { namedKinds } from './named-kinds.js';

const faults = (file: string, source: string) => readArrows(file, source).map(faultOf);

it('lets arrows run the way that data flows', () => {
  expect(
    faults(
      'packages/core/src/gif/a.ts',
      "import { x } from '../palette/index.js'; import type { Y } from './b.js';",
    ),
  ).toEqual([null, null]);
  expect(
    faults('packages/web/src/stage/A.tsx', "import { x } from '@muted-pond/core/gif'; const a = <b>{x}</b>;"),
  ).toEqual([null]);
});

it('sees an arrow that turns back, of types too, re-exported or asked for late', () => {
  for (const source of [
    "import { renderGif } from '../render/index.js';",
    "import type { RenderPlan } from '../render/index.js';",
    "export { renderGif } from '../render/index.js';",
    "const late = () => import('../render/index.js');",
  ]) {
    expect(faults('packages/core/src/pixels/a.ts', source)).toEqual([
      expect.stringContaining('render comes after pixels'),
    ]);
  }
});

it('sees arrows between server and web, out of the core, and past a door', () => {
  expect(
    faults('packages/web/src/a.ts', "import { x } from '../../server/src/media/index.js';")[0],
  ).toContain('only arrows into the core');
  expect(faults('packages/core/src/gif/a.ts', "import { readFile } from 'node:fs';")[0]).toContain('no host');
  expect(
    faults('packages/server/src/trials/a.ts', "import { Piece } from '../pieces/piece.entity.js';")[0],
  ).toContain('door');
});

it('finds a way round', () => {
  const arrow = (a: string, b: string) => ({
    from: `packages/server/src/${a}/x.ts`,
    to: `packages/server/src/${b}/index`,
  });
  expect(findCircle([arrow('a', 'b'), arrow('b', 'c')])).toBeNull();
  expect(findCircle([arrow('a', 'b'), arrow('b', 'c'), arrow('c', 'a')])).toBe(
    'server/a → server/b → server/c → server/a',
  );
});

it('sees a kind of file or a join that is named outside its family, in values, types and lists', () => {
  const [inPages, inServer] = ['packages/core/src/pages/a.ts', 'packages/server/src/trials/a.ts'];
  expect(namedKinds(inPages, "const order: readonly FileKindId[] = ['avif', 'webp'];")).toHaveLength(2);
  expect(namedKinds(inServer, "const isMovie = kind === 'mp4';")[0]).toContain('names “mp4”');
  expect(namedKinds(inServer, "function f(kind: 'webm') {}")).toHaveLength(1);
  expect(namedKinds('packages/web/src/a.tsx', "const a = <B kind={{ kind: 'frames' }} />;")).toHaveLength(1);
  expect(namedKinds(inServer, "const join = { kind: 'cut' };")).toHaveLength(1);
  expect(namedKinds(inServer, "const isWoven = join.kind === 'per-pixel';")[0]).toContain('joins');
});

it('lets families name their kinds, and words be words', () => {
  expect(namedKinds('packages/core/src/files/gif/kind.ts', "const id = 'gif';")).toEqual([]);
  expect(namedKinds('packages/core/src/loop/joins/woven.ts', "const kind = 'per-pixel';")).toEqual([]);
  // A stone, and a tab.
  expect(namedKinds('packages/web/src/a.ts', "const [stone, tab] = ['cut', 'frames'];")).toEqual([]);
  expect(namedKinds('packages/web/src/a.ts', "import { a } from './gif.js';")).toEqual([]);
});
