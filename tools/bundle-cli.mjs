// Bundles the command line after the compiler has run: `npm run build:server`. Hundreds of small modules take Node
// longer to find than to run. Writes packages/server/dist/cli/main.js over the compiler's and the rest into
// packages/server/dist/bundle, with each thread's file under the name by which the code asks for it.
import { spawnSync } from 'node:child_process';
import { mkdtempSync, readdirSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { basename, dirname, join } from 'node:path';
import { fileURLToPath, pathToFileURL } from 'node:url';
import { build } from 'esbuild';

const root = dirname(dirname(fileURLToPath(import.meta.url)));
const source = join(root, 'packages/server/src');

/** Packages that are bundled; all others are loaded from where they are installed, when they are wanted. */
const BUNDLED =
  /^(@muted-pond\/core|joi|commander|@hapi|@standard-schema|lru-cache|fflate|@resvg\/resvg-wasm|file-type|strtok3|token-types|uint8array-extras|@tokenizer|@borewit|ieee754)(\/|$)/;
/** Files that threads of ours begin with; those of the server's jobs export what a pool calls. */
const THREADS = readdirSync(source, { recursive: true })
  .filter((file) => file.endsWith('.worker.ts'))
  .filter((file) => readFileSync(join(source, file), 'utf8').includes('parentPort'));

/** What both builds share. */
const SETTINGS = {
  bundle: true,
  platform: 'node',
  target: 'node20',
  conditions: ['@muted-pond/source'],
  logLevel: 'warning',
};

const installedPackages = {
  name: 'installed packages',
  setup({ onResolve }) {
    onResolve({ filter: /^[^./]/ }, ({ path, kind }) =>
      kind === 'entry-point' || BUNDLED.test(path) ? undefined : { external: true },
    );
  },
};

/** Our own modules that have begun before the engine is loaded, under the names by which it is given them. */
const SHARED = new Map([
  [join(source, 'decoder/index.js'), 'shared decoder'],
  [join(source, 'ffmpeg/index.js'), 'shared ffmpeg'],
  [join(root, 'packages/core/src/errors/index.js'), 'shared errors'],
]);

const sharedModules = {
  name: 'shared modules',
  setup({ onResolve }) {
    const takenFrom = (file) => {
      const path = SHARED.get(file);
      return path ? { path, external: true } : undefined;
    };
    onResolve({ filter: /^\..*\/index\.js$/ }, ({ path, resolveDir }) => takenFrom(join(resolveDir, path)));
    onResolve({ filter: /^@muted-pond\/core\/errors$/ }, () =>
      takenFrom(join(root, 'packages/core/src/errors/index.js')),
    );
  },
};

/** In the bundle, the engine is one script, which bundled-engine.ts loads. */
const engineApart = {
  name: 'engine apart',
  setup({ onResolve }) {
    onResolve({ filter: /^\.\/render\.js$/ }, ({ importer }) =>
      basename(importer) === 'main.ts' ? { path: join(source, 'cli/bundled-engine.ts') } : undefined,
    );
  },
};

/** Writes `cli/main.js` and what it loads into a folder beside `packages/server/src`. */
export async function bundleCommandLine(dist) {
  rmSync(join(dist, 'bundle'), { recursive: true, force: true });
  await build({
    ...SETTINGS,
    entryPoints: [
      { in: join(source, 'cli/main.ts'), out: 'cli/main' },
      ...THREADS.map((file) => ({ in: join(source, file), out: `bundle/${basename(file, '.ts')}` })),
    ],
    outdir: dist,
    chunkNames: 'bundle/[name]-[hash]',
    allowOverwrite: true,
    splitting: true,
    format: 'esm',
    sourcemap: true,
    plugins: [engineApart, installedPackages],
    // What is bundled of CommonJS asks for Node's own modules this way.
    banner: {
      js: "import { createRequire as requireHere } from 'node:module'; const require = requireHere(import.meta.url);",
    },
  });
  const engine = join(dist, 'bundle/engine.cjs');
  await build({
    ...SETTINGS,
    entryPoints: [join(source, 'cli/render.ts')],
    outfile: engine,
    format: 'cjs',
    // What is loaded only when it is wanted is loaded as all else is.
    supported: { 'dynamic-import': false },
    define: { 'import.meta.url': 'engineUrl' },
    banner: { js: "const engineUrl = require('node:url').pathToFileURL(__filename).href;" },
    plugins: [sharedModules, installedPackages],
  });
  keepCode(dist);
}

/**
 * Lets the command line make a small file, and keeps the code that V8 has then: compiling it is half of what
 * loading the engine takes. Where it cannot run here, nothing is kept, and it is compiled each time.
 */
function keepCode(dist) {
  const work = mkdtempSync(join(tmpdir(), 'muted-pond-code-'));
  const footage = join(root, 'demo/footage/sideways.mp4');
  const args = ['--source', footage, '--from', '0', '--to', '1', '--width', '96', '--fps', '12'];
  spawnSync(
    process.execPath,
    [
      ...['--import', pathToFileURL(join(root, 'tools/keep-code.mjs')).href],
      ...[join(dist, 'cli/main.js'), ...args, '--out', join(work, 'small.gif')],
    ],
    { stdio: 'ignore' },
  );
  rmSync(work, { recursive: true, force: true });
}

if (process.argv[1] === fileURLToPath(import.meta.url)) {
  await bundleCommandLine(join(root, 'packages/server/dist'));
}
