import { expect, it } from 'vitest';
import { faultOf, findCircle, readArrows } from './arrows.js';

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
