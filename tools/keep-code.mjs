// Loaded before the bundled command line where it is built: keeps the code that V8 has of the engine when it has run.
import { writeFileSync } from 'node:fs';
import { isMainThread } from 'node:worker_threads';

if (isMainThread) {
  globalThis.whenEngineRuns = (script, path) => {
    process.on('exit', () => writeFileSync(`${path}.code`, script.createCachedData()));
  };
}
