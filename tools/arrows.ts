/**
 * `npm run arrows`: imports run one way. Type imports count too. Reads sources as text; nothing is run.
 *
 * - Packages: web → core, server → core, never back and never web ↔ server.
 * - Inside the core a folder imports only from folders above it in the order in which data flows.
 * - A folder of core or server is entered by its index.ts only.
 * - No folder of a package reaches itself by a way round.
 * - Ids of kinds of file and of joins are named within their families only.
 */
import { readdirSync, readFileSync } from 'node:fs';
import { dirname, join, normalize, relative, sep } from 'node:path';
import { fileURLToPath } from 'node:url';
import { parseSync } from 'oxc-parser';
import { namedKinds } from './named-kinds.js';

const ROOT = fileURLToPath(new URL('..', import.meta.url));

/** The core's folders in the order in which data flows. */
const CORE_ORDER = [
  'errors',
  'schema',
  'identity',
  'pixels',
  'timing',
  'motion',
  'loop',
  'weave',
  'still',
  'colour',
  'dress',
  'settle',
  'palette',
  'gif',
  'weigh',
  'parallel',
  'containers',
  'files',
  'recipe',
  'render',
  'derived',
  'pages',
  'api',
];
/** Whose folders have one door. The web's folders are components, taken one by one. */
const WITH_DOORS = ['core', 'server'];
/** TypeORM is handed every entity and migration by name, so this folder reaches past the doors. */
const PAST_DOORS = 'packages/server/src/database/';

export interface Arrow {
  /** Path of the importing file from the root. */
  readonly from: string;
  /** Path of the imported file from the root, without its ending; or the name of a package. */
  readonly to: string;
}

/** Every import, re-export and dynamic import of one file. */
export function readArrows(file: string, source: string): Arrow[] {
  const { module, errors } = parseSync(file, source);
  if (errors.length > 0) throw new Error(`${file}: ${errors[0].message}`);
  const names = [
    ...module.staticImports.map((one) => one.moduleRequest.value),
    ...module.staticExports.flatMap((one) =>
      one.entries.flatMap((entry) => entry.moduleRequest?.value ?? []),
    ),
    ...module.dynamicImports.map((one) =>
      source.slice(one.moduleRequest.start + 1, one.moduleRequest.end - 1),
    ),
  ];
  return [...new Set(names)].map((name) => ({ from: file, to: resolve(file, name) }));
}

function resolve(file: string, name: string): string {
  if (name.startsWith('.')) return normalize(join(dirname(file), name)).replace(/\.(js|ts|tsx)$/, '');
  const own = /^@muted-pond\/([^/]+)\/(.+)$/.exec(name);
  return own ? `packages/${own[1]}/src/${own[2]}/index` : name;
}

interface Place {
  readonly packageName: string;
  readonly folder: string;
}

/** The package and the folder below its src, each stone's by itself; null for what lies elsewhere. */
function placeOf(path: string): Place | null {
  const match = /^packages\/([^/]+)\/src\/(?:(stones\/[^/]+(?=\/)|[^/]+)\/)?/.exec(path);
  return match ? { packageName: match[1], folder: match[2] ?? '' } : null;
}

/** What is wrong with one arrow, in a sentence; null when nothing is. */
export function faultOf({ from, to }: Arrow): string | null {
  const source = placeOf(from);
  const target = placeOf(to);
  if (!source) return null;
  if (!target) {
    const isHost = source.packageName === 'core' && (to.startsWith('node:') || /react|@nestjs/.test(to));
    return isHost ? `${from} → ${to}: the core knows no host` : null;
  }
  if (source.packageName !== target.packageName) {
    return target.packageName === 'core'
      ? null
      : `${from} → ${to}: only arrows into the core leave a package`;
  }
  if (source.folder === target.folder || target.folder === '') return null;
  if (
    source.packageName === 'core' &&
    CORE_ORDER.indexOf(source.folder) < CORE_ORDER.indexOf(target.folder)
  ) {
    return `${from} → ${to}: ${target.folder} comes after ${source.folder}`;
  }
  const entersElsewhere = WITH_DOORS.includes(source.packageName) && !to.endsWith(`/${target.folder}/index`);
  return entersElsewhere && !from.startsWith(PAST_DOORS) ? `${from} → ${to}: not by the folder’s door` : null;
}

/** A way round from a folder to itself, if there is one. */
export function findCircle(arrows: readonly Arrow[]): string | null {
  const next = new Map<string, Set<string>>();
  for (const { from, to } of arrows) {
    const [source, target] = [placeOf(from), placeOf(to)];
    if (!source?.folder || !target?.folder || from.startsWith(PAST_DOORS)) continue;
    const [a, b] = [`${source.packageName}/${source.folder}`, `${target.packageName}/${target.folder}`];
    if (a !== b) next.set(a, (next.get(a) ?? new Set()).add(b));
  }
  const walk = (at: string, way: readonly string[]): string | null => {
    if (way.includes(at)) return [...way.slice(way.indexOf(at)), at].join(' → ');
    for (const to of next.get(at) ?? []) {
      const circle = walk(to, [...way, at]);
      if (circle) return circle;
    }
    return null;
  };
  for (const start of next.keys()) {
    const circle = walk(start, []);
    if (circle) return circle;
  }
  return null;
}

export function sourceFiles(): string[] {
  return readdirSync(join(ROOT, 'packages'), { recursive: true, encoding: 'utf8' })
    .map((file) =>
      relative(ROOT, join(ROOT, 'packages', file))
        .split(sep)
        .join('/'),
    )
    .filter((file) => /^packages\/[^/]+\/src\/.*\.tsx?$/.test(file))
    .filter((file) => !/\.test\.tsx?$/.test(file) && !file.includes('/src/testing/'));
}

if (process.argv[1] === fileURLToPath(import.meta.url)) {
  const sources = sourceFiles().map((file) => [file, readFileSync(join(ROOT, file), 'utf8')] as const);
  const arrows = sources.flatMap(([file, source]) => readArrows(file, source));
  const faults = arrows.flatMap((arrow) => faultOf(arrow) ?? []);
  faults.push(...sources.flatMap(([file, source]) => namedKinds(file, source)));
  const circle = findCircle(arrows);
  if (circle) faults.push(`A way round: ${circle}`);
  for (const fault of faults) console.error(fault);
  console.log(`${arrows.length} arrows, ${faults.length} faults`);
  process.exitCode = faults.length > 0 ? 1 : 0;
}
