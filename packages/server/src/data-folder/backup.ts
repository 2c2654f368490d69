import { constants, createReadStream, existsSync } from 'node:fs';
import { copyFile, mkdir, readdir, readFile, rename, rm, writeFile } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import { UserError } from '@muted-pond/core/errors';
import Database from 'better-sqlite3';
import { dataFolders } from '../settings.js';
import { hashOf } from '../storage/index.js';

/** What a backup says of itself. */
export interface BackupManifest {
  /** ISO 8601. */
  readonly createdAt: string;
  readonly files: number;
}

const MANIFEST = 'backup.json';

/**
 * Writes a consistent copy of a data folder, also while a server uses it: first the database, by its own
 * means, then the files, which never change once they are there. Half a backup never bears the name of a
 * whole one.
 * @param target a folder that is not there yet.
 * @throws UserError when it is.
 */
export async function backUp(dataDir: string, target: string): Promise<BackupManifest> {
  if (existsSync(target)) {
    throw new UserError(
      'cannot_start',
      `${target} is there already. Name a folder that is not, and the backup is made in it.`,
    );
  }
  const from = dataFolders(dataDir);
  const half = `${target}.half`;
  const to = dataFolders(half);
  await rm(half, { recursive: true, force: true });
  await mkdir(half, { recursive: true });
  try {
    if (existsSync(from.database)) {
      const database = new Database(from.database, { readonly: true });
      try {
        await database.backup(to.database);
      } finally {
        database.close();
      }
    }
    const hashes = await hashesIn(from.blobs);
    for (const hash of hashes) await copyBlob(blobIn(from.blobs, hash), blobIn(to.blobs, hash));
    const manifest = { createdAt: new Date().toISOString(), files: hashes.length };
    await writeFile(join(half, MANIFEST), `${JSON.stringify(manifest, null, 2)}\n`);
    await rename(half, target);
    return manifest;
  } catch (error) {
    await rm(half, { recursive: true, force: true });
    throw error;
  }
}

/**
 * Puts a backup in the place of a data folder. What was there is kept beside it under another name.
 * @returns where what was there before lies now; null where nothing was.
 * @throws UserError when it is no whole backup, or a file in it is damaged: then nothing has changed.
 */
export async function restore(backup: string, dataDir: string): Promise<string | null> {
  const manifest = await readManifest(backup);
  const { blobs, database } = dataFolders(backup);
  const hashes = await hashesIn(blobs);
  const damaged = await damagedIn(blobs);
  if (hashes.length < manifest.files || damaged.length > 0 || !existsSync(database)) {
    throw new UserError(
      'cannot_start',
      `The backup ${backup} is not whole: ${manifest.files - hashes.length} files are missing and ${damaged.length} damaged. Take another one; nothing was changed.`,
    );
  }
  const half = `${dataDir}.restoring`;
  const to = dataFolders(half);
  await rm(half, { recursive: true, force: true });
  await mkdir(half, { recursive: true });
  await copyFile(database, to.database);
  for (const hash of hashes) await copyBlob(blobIn(blobs, hash), blobIn(to.blobs, hash));
  const isThere = existsSync(dataDir);
  const before = `${dataDir.replace(/[\\/]+$/, '')}.before-${manifest.createdAt.replace(/[:.]/g, '-')}`;
  if (isThere) {
    await rm(before, { recursive: true, force: true });
    await rename(dataDir, before);
  }
  await rename(half, dataDir);
  return isThere ? before : null;
}

/** Blobs whose bytes are not those that they are named by. */
export async function damagedIn(blobsDir: string): Promise<string[]> {
  const damaged: string[] = [];
  for (const hash of await hashesIn(blobsDir)) {
    if ((await hashOf(createReadStream(blobIn(blobsDir, hash)))) !== hash) damaged.push(hash);
  }
  return damaged;
}

async function readManifest(backup: string): Promise<BackupManifest> {
  try {
    return JSON.parse(await readFile(join(backup, MANIFEST), 'utf8')) as BackupManifest;
  } catch {
    throw new UserError(
      'cannot_start',
      `${backup} is no backup of Muted Pond: it holds no ${MANIFEST}. Name another folder.`,
    );
  }
}

async function hashesIn(blobsDir: string): Promise<string[]> {
  if (!existsSync(blobsDir)) return [];
  const folders = await readdir(blobsDir);
  return (await Promise.all(folders.map((folder) => readdir(join(blobsDir, folder))))).flat();
}

function blobIn(blobsDir: string, hash: string): string {
  return join(blobsDir, hash.slice(0, 2), hash);
}

async function copyBlob(from: string, to: string): Promise<void> {
  await mkdir(dirname(to), { recursive: true });
  await copyFile(from, to, constants.COPYFILE_FICLONE);
}
