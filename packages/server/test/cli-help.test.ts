import { spawnSync } from 'node:child_process';
import { existsSync, readFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { beforeAll, describe, expect, it } from 'vitest';

const ROOT = fileURLToPath(new URL('../../..', import.meta.url));

/** Runs one of our programs from its sources. */
function run(file: string, ...args: string[]) {
  const program = [join(ROOT, 'node_modules/.bin/tsx'), '--conditions=@muted-pond/source'];
  const { status, stdout, stderr } = spawnSync(
    process.execPath,
    [...program, join(ROOT, 'packages/server/src', file), ...args],
    {
      encoding: 'utf8',
      cwd: join(ROOT, 'packages/server'),
      env: { ...process.env, MUTED_POND_DATA: join(tmpdir(), 'muted-pond-no-such-folder') },
    },
  );
  return { status, stdout, stderr };
}

describe('help of the command line', () => {
  let help: string;
  let flags: string[];

  beforeAll(() => {
    const { status, stdout, stderr } = run('cli/main.ts', '--help');
    expect([status, stderr]).toEqual([0, '']);
    help = stdout;
    flags = [...new Set(help.match(/^ {2}--[a-z-]+/gm)?.map((one) => one.trim()))].filter(
      (one) => one !== '--help',
    );
  });

  it('lists flags with what they say, and examples', () => {
    expect(flags.length).toBeGreaterThan(45);
    for (const example of help.match(/npm run render -- .*/g) ?? []) {
      for (const flag of example.match(/--[a-z][a-z-]*/g) ?? []) expect(flags, example).toContain(flag);
    }
    expect(help).toContain('Examples:');
  });

  it('is written down in docs/CLI.md, flag by flag, and no other', () => {
    const written = new Set(readFileSync(join(ROOT, 'docs/CLI.md'), 'utf8').match(/--[a-z][a-z-]*/g));
    written.delete('--help');
    expect([...written].sort()).toEqual(flags.sort());
  });

  it('is offered where a flag is not known, in one line', () => {
    const { status, stderr } = run('cli/main.ts', '--souce', 'x.mp4');
    expect(status).toBe(1);
    expect(stderr).toBe("Unknown option '--souce'. (Did you mean --source?) --help lists all flags.\n");
  });

  it('of a command with a folder does nothing but show itself', () => {
    const { status, stdout } = run('data-folder/cli.ts', 'backup', '--help');
    expect(status).toBe(0);
    expect(stdout).toContain('Usage: npm run backup -- <folder>');
    expect(existsSync(join(ROOT, 'packages/server/--help'))).toBe(false);
  });

  it('of all commands names each that package.json has for people', () => {
    const { status, stdout } = spawnSync(process.execPath, [join(ROOT, 'tools/pond.mjs'), '--help'], {
      encoding: 'utf8',
    });
    expect(status).toBe(0);
    const { scripts } = JSON.parse(readFileSync(join(ROOT, 'package.json'), 'utf8'));
    const ours = Object.entries<string>(scripts).flatMap(([name, line]) =>
      line.startsWith('node tools/pond.mjs ') ? [name] : [],
    );
    const listed = stdout.match(/npm run [a-z-]+/g)?.map((one) => one.slice('npm run '.length));
    expect(listed?.sort()).toEqual(ours.sort());
  });

  it('that is read only in part ends without a word', () => {
    const line = `"${process.execPath}" "${join(ROOT, 'node_modules/.bin/tsx')}" --conditions=@muted-pond/source src/cli/main.ts --help | head -1`;
    const { stdout, stderr } = spawnSync('sh', ['-c', line], {
      encoding: 'utf8',
      cwd: join(ROOT, 'packages/server'),
    });
    expect(stdout).toContain('Usage: render');
    expect(stderr).not.toContain('EPIPE');
  });

  it('a backup to nowhere is told how', () => {
    const { status, stderr } = run('data-folder/cli.ts', 'backup');
    expect([status, stderr.trim()]).toEqual([
      ...[1, 'Use: npm run backup -- FOLDER, npm run restore -- FOLDER, or npm run check-data.'],
    ]);
  });
});
