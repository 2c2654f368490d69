import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { dirname } from 'node:path';
import { fileURLToPath } from 'node:url';
import { Script } from 'node:vm';
import * as errors from '@muted-pond/core/errors';
import * as decoder from '../decoder/index.js';
import * as ffmpeg from '../ffmpeg/index.js';
import type { render as renderFiles } from './render.js';

/**
 * Stands for `render.ts` in the bundle (tools/bundle-cli.mjs): there it is one script, and beside it lies the
 * code that V8 made of it when it was built. Another version of V8 ignores that code.
 */
export const { render } = loadEngine(fileURLToPath(new URL('../bundle/engine.cjs', import.meta.url)));

interface Engine {
  readonly render: typeof renderFiles;
}

function loadEngine(path: string): Engine {
  // With what Node puts around CommonJS.
  const text = `(function (exports, require, module, __filename, __dirname) {${readFileSync(path, 'utf8')}\n})`;
  const script = new Script(text, { filename: path, cachedData: keptCode(path) });
  // Whoever bundles keeps the code.
  (globalThis as { whenEngineRuns?: (script: Script, path: string) => void }).whenEngineRuns?.(script, path);
  const module = { exports: {} };
  const installed = createRequire(path);
  // The decoder has begun by now, and its errors must be the same ones there.
  const shared: Record<string, unknown> = {
    'shared decoder': decoder,
    'shared ffmpeg': ffmpeg,
    'shared errors': errors,
  };
  const requireHere = (name: string): unknown => shared[name] ?? installed(name);
  script.runInThisContext()(module.exports, requireHere, module, path, dirname(path));
  return module.exports as Engine;
}

function keptCode(path: string): Buffer | undefined {
  try {
    return readFileSync(`${path}.code`);
  } catch {
    return undefined;
  }
}
