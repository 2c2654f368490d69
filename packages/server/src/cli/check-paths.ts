import { realpath, stat } from 'node:fs/promises';
import { basename, dirname, join, resolve } from 'node:path';
import { UserError } from '@muted-pond/core/errors';
import type { RenderFlags } from './render-flags.js';

/** A path of the command line and the flag that named it. */
interface NamedPath {
  readonly flag: string;
  readonly path: string;
}

/**
 * Looks at every path before the first byte is read or written.
 * @throws UserError where a file to be read is a folder, where a result cannot be written, would replace a file
 * that is read, by whatever path or link, or would replace another result.
 */
export async function checkPaths(flags: RenderFlags): Promise<void> {
  const read = new Map<string, NamedPath>();
  for (const named of readPaths(flags)) {
    const found = await stat(named.path).catch(() => null);
    // What does not exist is told by whoever reads it.
    if (!found) continue;
    if (found.isDirectory()) {
      throw new UserError(
        'bad_flag',
        `${named.flag} “${named.path}” is a folder. Name the file itself, or several: ${named.flag} FILE FILE.`,
      );
    }
    read.set(await identityOf(named.path), named);
  }
  const written = new Map<string, NamedPath>();
  for (const named of writtenPaths(flags)) {
    await assertWritable(named);
    const identity = await identityOf(named.path);
    const source = read.get(identity);
    if (source) {
      throw new UserError(
        'bad_flag',
        `${named.flag} “${named.path}” is the file that ${source.flag} reads. Name another one: what is read is never overwritten.`,
      );
    }
    const other = written.get(identity);
    if (other) {
      throw new UserError(
        'bad_flag',
        `${named.flag} “${named.path}” and ${other.flag} “${other.path}” are the same file. Name two.`,
      );
    }
    written.set(identity, named);
  }
}

function readPaths({ sources, recipe, mask, dress }: RenderFlags): NamedPath[] {
  return [
    ...sources.map((path) => ({ flag: '--source', path })),
    ...named('--recipe', recipe),
    ...named('--mask', mask),
    ...named('--lut', dress.lut),
    ...named('--subtitles', dress.subtitles),
    ...dress.emblems.map(({ path }) => ({ flag: '--emblem', path })),
  ];
}

function writtenPaths({ outs, report, poster, snippet }: RenderFlags): NamedPath[] {
  return [
    ...outs.map(({ path }) => ({ flag: '--out', path })),
    ...named('--poster', poster),
    ...named('--snippet', snippet),
    ...named('--report', report),
  ];
}

function named(flag: string, path: string | null): NamedPath[] {
  return path === null ? [] : [{ flag, path }];
}

async function assertWritable({ flag, path }: NamedPath): Promise<void> {
  const there = await stat(path).catch(() => null);
  if (there?.isDirectory()) {
    throw new UserError('bad_flag', `${flag} “${path}” is a folder. Name a file in it.`);
  }
  const folder = await stat(dirname(resolve(path))).catch(() => null);
  if (folder?.isDirectory()) return;
  throw new UserError(
    'bad_flag',
    `${flag} “${path}”: the folder “${dirname(path)}” does not exist. Make it first, or name another.`,
  );
}

/** The same for every path and link to one file; of a file that is not there yet, where it would be. */
async function identityOf(path: string): Promise<string> {
  const found = await stat(path).catch(() => null);
  if (found) return `${found.dev}:${found.ino}`;
  return join(await realpath(dirname(resolve(path))), basename(path));
}
