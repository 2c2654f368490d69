// Bundles the command line after the compiler has run: `npm run build:server`. Hundreds of small modules take Node
// longer to find than to run. Writes packages/server/dist/cli/main.js over the compiler's and the rest into
// packages/server/dist/bundle, with each thread's file under the name by which the code asks for it.
import { readdirSync, readFileSync, rmSync } from 'node:fs';
import { basename, dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { build } from 'esbuild';

const root = dirname(dirname(fileURLToPath(import.meta.url)));
const source = join(root, 'packages/server/src');

/** Packages that are bundled; all others are loaded from where they are installed, when they are wanted. */
const BUNDLED = /^(@muted-pond\/core|joi|@hapi|@standard-schema|lru-cache|fflate|@resvg\/resvg-wasm)(\/|$)/;
/** Files that threads of ours begin with; those of the server's jobs export what a pool calls. */
const THREADS = readdirSync(source, { recursive: true })
  .filter((file) => file.endsWith('.worker.ts'))
  .filter((file) => readFileSync(join(source, file), 'utf8').includes('parentPort'));

/** Writes `cli/main.js` and what it loads into a folder beside `packages/server/src`. */
export async function bundleCommandLine(dist) {
  rmSync(join(dist, 'bundle'), { recursive: true, force: true });
  await build({
    entryPoints: [
      { in: join(source, 'cli/main.ts'), out: 'cli/main' },
      ...THREADS.map((file) => ({ in: join(source, file), out: `bundle/${basename(file, '.ts')}` })),
    ],
    outdir: dist,
    chunkNames: 'bundle/[name]-[hash]',
    allowOverwrite: true,
    bundle: true,
    splitting: true,
    platform: 'node',
    format: 'esm',
    target: 'node20',
    sourcemap: true,
    conditions: ['@muted-pond/source'],
    plugins: [
      {
        name: 'installed packages',
        setup({ onResolve }) {
          onResolve({ filter: /^[^./]/ }, ({ path, kind }) =>
            kind === 'entry-point' || BUNDLED.test(path) ? undefined : { external: true },
          );
        },
      },
    ],
    // What is bundled of CommonJS asks for Node's own modules this way.
    banner: {
      js: "import { createRequire as requireHere } from 'node:module'; const require = requireHere(import.meta.url);",
    },
    logLevel: 'warning',
  });
}

if (process.argv[1] === fileURLToPath(import.meta.url)) {
  await bundleCommandLine(join(root, 'packages/server/dist'));
}
