import { createReadStream, existsSync } from 'node:fs';
import { cp, mkdir, rename, rm } from 'node:fs/promises';
import { join } from 'node:path';
import { UserError } from '@muted-pond/core/errors';
import { blobsIn, hashOf } from '../blobs/index.js';
import { MIGRATION_NAMES } from '../database/index.js';
import { HOST_MIGRATION_NAMES, hostFolders } from '../practice-host/index.js';
import { dataFolders } from '../settings.js';
import { blobPath } from './backup.js';
import { checkDatabase } from './check-database.js';
import { type BackupManifest, readIndex, readManifest } from './manifest.js';

export interface Restored {
  readonly manifest: BackupManifest;
  /** Where what was there before lies now; null where nothing was. */
  readonly before: string | null;
}

/**
 * Puts a backup in the place of a data folder. What was there is put aside under the moment of restoring and
 * never removed; the folder's own backups stay in their place.
 * @throws UserError when it is no whole backup, or something in it is damaged: then nothing has changed.
 */
export async function restore(backup: string, dataDir: string): Promise<Restored> {
  const manifest = await readManifest(backup);
  await assertWholeBackup(backup, manifest);
  const place = dataDir.replace(/[\\/]+$/, '');
  const half = freeName(`${place}.restoring`);
  const [from, to] = [dataFolders(backup), dataFolders(half)];
  await mkdir(half, { recursive: true });
  try {
    for (const part of ['database', 'blobs', 'practiceHost'] as const) {
      if (existsSync(from[part])) await cp(from[part], to[part], { recursive: true });
    }
    // The copies are looked at: a look at the backup itself would write beside it.
    checkDatabase(to.database, MIGRATION_NAMES);
    checkDatabase(hostFolders(to.practiceHost).database, HOST_MIGRATION_NAMES);
  } catch (error) {
    await rm(half, { recursive: true, force: true });
    throw error;
  }
  if (!existsSync(place)) {
    await rename(half, place);
    return { manifest, before: null };
  }
  const before = freeName(`${place}.before-${new Date().toISOString().replace(/[:.]/g, '-')}`);
  await rename(place, before);
  await rename(half, place);
  const { backups } = dataFolders(before);
  if (existsSync(backups)) await rename(backups, dataFolders(place).backups);
  return { manifest, before };
}

/** Blobs whose bytes are not those that they are named by. */
export async function damagedIn(blobsDir: string): Promise<string[]> {
  const damaged: string[] = [];
  for (const hash of existsSync(blobsDir) ? await blobsIn(blobsDir) : []) {
    if ((await hashOf(createReadStream(blobPath(blobsDir, hash)))) !== hash) damaged.push(hash);
  }
  return damaged;
}

/** @throws UserError naming what is missing or damaged. */
async function assertWholeBackup(backup: string, manifest: BackupManifest): Promise<void> {
  const { missing, damaged } = await differencesIn(backup, manifest);
  if (missing > 0 || damaged.length > 0) {
    throw new UserError(
      'cannot_start',
      `The backup ${backup} is not whole: ${missing} files are missing and ${damaged.length} damaged${damaged.length > 0 ? ` (${damaged[0]})` : ''}. Take another one; nothing was changed.`,
    );
  }
}

async function differencesIn(
  backup: string,
  manifest: BackupManifest,
): Promise<{ missing: number; damaged: string[] }> {
  const index = await readIndex(backup, manifest);
  const { blobs, database } = dataFolders(backup);
  if (index === null) {
    // A backup of an earlier version counts its files only.
    const there = existsSync(blobs) ? (await blobsIn(blobs)).length : 0;
    const missing = Math.max(0, manifest.files - there) + (existsSync(database) ? 0 : 1);
    return { missing, damaged: await damagedIn(blobs) };
  }
  let missing = 0;
  const damaged: string[] = [];
  for (const [path, hash] of index) {
    const file = join(backup, path);
    if (!existsSync(file)) missing++;
    else if ((await hashOf(createReadStream(file))) !== hash) damaged.push(path);
  }
  return { missing, damaged };
}

/** The name, or where something is there already, one with a number behind it. */
function freeName(wanted: string): string {
  for (let number = 1; ; number++) {
    const name = number === 1 ? wanted : `${wanted}-${number}`;
    if (!existsSync(name)) return name;
  }
}
