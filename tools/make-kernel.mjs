// Compiles the kernels of packages/core/kernel and keeps the results as text, so that neither a build nor a
// browser needs
// the compiler: `npm run make-kernel`.
import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';

const root = dirname(dirname(fileURLToPath(import.meta.url)));

/** Each kernel, and the folder of the core that uses it. */
export const KERNELS = {
  settle: 'settle',
  masking: 'settle',
  resize: 'pixels',
  colour: 'colour',
  weave: 'weave',
  flow: 'motion/flow',
  lead: 'motion/flow',
  count: 'palette',
  nearest: 'palette',
  cluster: 'palette',
  draw: 'gif',
};

/** The compiled module's bytes. Throws with the compiler's words. */
export function compileKernel(name) {
  const folder = mkdtempSync(join(tmpdir(), 'muted-pond-kernel-'));
  try {
    const out = join(folder, `${name}.wasm`);
    const options = ['-O3', '--converge', '--noAssert', '--runtime', 'stub', '--enable', 'simd'];
    execFileSync(process.execPath, [
      join(root, 'node_modules/assemblyscript/bin/asc.js'),
      join(root, `packages/core/kernel/${name}.ts`),
      ...['-o', out, ...options],
    ]);
    return readFileSync(out);
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
}

if (process.argv[1] === fileURLToPath(import.meta.url)) {
  for (const [name, folder] of Object.entries(KERNELS)) {
    const lines = compileKernel(name)
      .toString('base64')
      .match(/.{1,96}/g)
      .map((line) => `  '${line}',`);
    writeFileSync(
      join(root, `packages/core/src/${folder}/${name}-kernel.ts`),
      `/** packages/core/kernel/${name}.ts, compiled by \`npm run make-kernel\`: WebAssembly as base 64. */
export const ${name.toUpperCase()}_KERNEL = [
${lines.join('\n')}
].join('');
`,
    );
  }
}
