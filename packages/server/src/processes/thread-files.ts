import { createRequire } from 'node:module';
import { pathToFileURL } from 'node:url';
import { Worker } from 'node:worker_threads';

/** From sources, worker threads need the loader; built, they need nothing. */
const fromSources = import.meta.url.endsWith('.ts');

export const THREAD_ENDING = fromSources ? 'ts' : 'js';
export const THREAD_ARGV = fromSources ? ['--conditions=@muted-pond/source', '--import', 'tsx'] : [];

/**
 * A thread that runs one of our files. A source cannot be the file that a thread begins with: the loader
 * takes files only once it runs. So a line of JavaScript begins, which starts the loader and then fetches the
 * file.
 * @param file with THREAD_ENDING.
 */
export function startThread(file: URL): Worker {
  if (!fromSources) return new Worker(file);
  const line = `import { register } from ${JSON.stringify(loaderUrl())}; register(); await import(${JSON.stringify(file.href)});`;
  return new Worker(new URL(`data:text/javascript,${encodeURIComponent(line)}`), {
    execArgv: ['--conditions=@muted-pond/source'],
  });
}

/** Where the loader's own interface lies, as its package says. */
function loaderUrl(): string {
  const require = createRequire(import.meta.url);
  const exported = require('tsx/package.json').exports['./esm/api'].import.default as string;
  return new URL(exported, pathToFileURL(require.resolve('tsx/package.json'))).href;
}
