import { constants, createReadStream, existsSync } from 'node:fs';
import { copyFile, mkdir, readdir, rename, rm, stat, writeFile } from 'node:fs/promises';
import { dirname, join, relative, resolve, sep } from 'node:path';
import type { BackupHolds } from '@muted-pond/core/api';
import { UserError } from '@muted-pond/core/errors';
import Database from 'better-sqlite3';
import { blobsIn, hashOf } from '../blobs/index.js';
import { hostFolders } from '../practice-host/index.js';
import { dataFolders } from '../settings.js';
import { type BackupManifest, INDEX, MANIFEST, writeIndex } from './manifest.js';

/** A page of the practice host may be replaced while its file is copied; then all of it is copied anew. */
const MOST_TRIES = 5;

/**
 * Writes a consistent copy of a data folder, also while a server uses it: first each database, by its own means,
 * then the files, which never change once they are there. Half a backup never bears the name of a whole one.
 * @param target a folder that is not there yet.
 * @throws UserError when it is, or lies where the application keeps something else.
 */
export async function backUp(dataDir: string, target: string): Promise<BackupManifest> {
  assertTarget(dataDir, target);
  const from = dataFolders(dataDir);
  const half = `${target}.half`;
  const to = dataFolders(half);
  await rm(half, { recursive: true, force: true });
  await mkdir(half, { recursive: true });
  try {
    await copyDatabase(from.database, to.database);
    const hashes = existsSync(from.blobs) ? await blobsIn(from.blobs) : [];
    for (const hash of hashes) await copyBlob(from.blobs, to.blobs, hash);
    await copyHost(from.practiceHost, to.practiceHost);
    const index = await indexOf(half);
    const manifest: BackupManifest = {
      createdAt: new Date().toISOString(),
      files: hashes.length,
      holds: { ...countRows(half), files: index.size, bytes: await bytesOf(half, [...index.keys()]) },
    };
    await writeFile(join(half, MANIFEST), `${JSON.stringify(manifest, null, 2)}\n`);
    index.set(MANIFEST, await hashOf(createReadStream(join(half, MANIFEST))));
    await writeFile(join(half, INDEX), writeIndex(index));
    await rename(half, target);
    return manifest;
  } catch (error) {
    await rm(half, { recursive: true, force: true });
    throw error;
  }
}

function assertTarget(dataDir: string, target: string): void {
  if (existsSync(target)) {
    throw new UserError(
      'cannot_start',
      `${target} is there already. Name a folder that is not, and the backup is made in it.`,
    );
  }
  const { backups } = dataFolders(dataDir);
  if (isBelow(target, dataDir) && !isBelow(target, backups)) {
    throw new UserError(
      'cannot_start',
      `${target} lies in the data folder itself, where other things are kept. Name a folder elsewhere, or one below ${backups}.`,
    );
  }
}

function isBelow(path: string, folder: string): boolean {
  const way = relative(resolve(folder), resolve(path));
  return way !== '' && way !== '..' && !way.startsWith(`..${sep}`);
}

async function copyDatabase(from: string, to: string): Promise<void> {
  if (!existsSync(from)) return;
  await mkdir(dirname(to), { recursive: true });
  const database = new Database(from, { readonly: true });
  try {
    await database.backup(to);
  } finally {
    database.close();
  }
  // One file: nothing of it stands in a log beside it, also when somebody looks at the copy.
  const copy = new Database(to);
  try {
    copy.pragma('journal_mode = DELETE');
  } finally {
    copy.close();
  }
}

/** All of the practice host: its tables and the files of its pages. */
async function copyHost(from: string, to: string): Promise<void> {
  const source = hostFolders(from);
  const copy = hostFolders(to);
  if (!existsSync(source.database)) return;
  for (let turn = 1; ; turn++) {
    await rm(to, { recursive: true, force: true });
    await copyDatabase(source.database, copy.database);
    await mkdir(copy.files, { recursive: true });
    try {
      for (const file of filesOfPages(copy.database))
        await clone(join(source.files, file), join(copy.files, file));
      return;
    } catch (error) {
      if ((error as NodeJS.ErrnoException).code !== 'ENOENT' || turn >= MOST_TRIES) throw error;
    }
  }
}

function filesOfPages(database: string): string[] {
  return query(database, 'SELECT DISTINCT "file" FROM "page"') as string[];
}

/** The rows that people care for. */
function countRows(folder: string): Omit<BackupHolds, 'files' | 'bytes'> {
  const { database, practiceHost } = dataFolders(folder);
  const host = hostFolders(practiceHost).database;
  const count = (file: string, table: string) =>
    existsSync(file) ? Number(query(file, `SELECT count(*) FROM "${table}"`)[0]) : 0;
  return {
    pieces: count(database, 'piece'),
    footage: count(database, 'footage'),
    trials: count(database, 'trial'),
    pages: count(host, 'page'),
  };
}

function query(file: string, statement: string): unknown[] {
  const database = new Database(file, { readonly: true });
  try {
    return database.prepare(statement).pluck().all();
  } catch (error) {
    // A database in which nothing was ever kept has no tables.
    if (/no such table/.test((error as Error).message)) return [];
    throw error;
  } finally {
    database.close();
  }
}

/** Every file below a folder and its hash. What is named by its hash is not read again: it was checked when it came. */
async function indexOf(folder: string): Promise<Map<string, string>> {
  const entries = await readdir(folder, { recursive: true, withFileTypes: true });
  const index = new Map<string, string>();
  for (const entry of entries.filter((one) => one.isFile())) {
    const path = join(entry.parentPath, entry.name);
    const isNamedByHash = /^[0-9a-f]{64}$/.test(entry.name);
    const hash = isNamedByHash ? entry.name : await hashOf(createReadStream(path));
    index.set(relative(folder, path).split(sep).join('/'), hash);
  }
  return index;
}

async function bytesOf(folder: string, paths: readonly string[]): Promise<number> {
  const sizes = await Promise.all(paths.map(async (path) => (await stat(join(folder, path))).size));
  return sizes.reduce((sum, size) => sum + size, 0);
}

export function blobPath(blobsDir: string, hash: string): string {
  return join(blobsDir, hash.slice(0, 2), hash);
}

export async function copyBlob(from: string, to: string, hash: string): Promise<void> {
  await clone(blobPath(from, hash), blobPath(to, hash));
}

/** Copies a file, without taking room for it twice where the file system can do that. */
async function clone(from: string, to: string): Promise<void> {
  await mkdir(dirname(to), { recursive: true });
  await copyFile(from, to, constants.COPYFILE_FICLONE);
}
