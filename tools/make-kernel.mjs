// Compiles packages/core/kernel/settle.ts and keeps the result as text, so that neither a build nor a browser needs the
// compiler: `npm run make-kernel`.
import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';

const root = dirname(dirname(fileURLToPath(import.meta.url)));

/** The compiled module's bytes. Throws with the compiler's words. */
export function compileKernel() {
  const folder = mkdtempSync(join(tmpdir(), 'muted-pond-kernel-'));
  try {
    const out = join(folder, 'settle.wasm');
    const options = ['-O3', '--converge', '--noAssert', '--runtime', 'stub', '--enable', 'simd'];
    execFileSync(process.execPath, [
      join(root, 'node_modules/assemblyscript/bin/asc.js'),
      join(root, 'packages/core/kernel/settle.ts'),
      ...['-o', out, ...options],
    ]);
    return readFileSync(out);
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
}

if (process.argv[1] === fileURLToPath(import.meta.url)) {
  const lines = compileKernel()
    .toString('base64')
    .match(/.{1,96}/g)
    .map((line) => `  '${line}',`);
  writeFileSync(
    join(root, 'packages/core/src/settle/settle-kernel.ts'),
    `/** packages/core/kernel/settle.ts, compiled by \`npm run make-kernel\`: WebAssembly as base 64. */
export const SETTLE_KERNEL = [
${lines.join('\n')}
].join('');
`,
  );
}
