import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { expect, it } from 'vitest';

it('the core asks for no clock, chance, host or log', () => {
  const root = fileURLToPath(new URL('.', import.meta.url));
  const files = readdirSync(root, { recursive: true, encoding: 'utf8' }).filter(
    (file) => file.endsWith('.ts') && !file.endsWith('.test.ts') && !file.startsWith('testing'),
  );
  expect(files.length).toBeGreaterThan(40);
  for (const file of files) {
    const text = readFileSync(join(root, file), 'utf8');
    expect(text, file).not.toMatch(/Math\.random|Date\.now|performance\.|console\.|from 'node:/);
  }
});
