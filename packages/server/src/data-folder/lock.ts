import { join } from 'node:path';
import { UserError } from '@muted-pond/core/errors';
import Database from 'better-sqlite3';

/**
 * Held for as long as a server uses a data folder; the system lets go of it when the process dies, however
 * that is.
 */
export interface FolderLock {
  release(): void;
}

/**
 * Takes the data folder for this process. The lock is SQLite's own on a file that nothing else is kept in,
 * and so one that the operating system keeps.
 * @throws UserError when another server has it.
 */
export function lockFolder(dataDir: string): FolderLock {
  const database = new Database(join(dataDir, 'lock'), { timeout: 0 });
  try {
    database.pragma('journal_mode = DELETE');
    database.exec('BEGIN EXCLUSIVE');
  } catch (error) {
    database.close();
    if (!/SQLITE_BUSY|SQLITE_LOCKED/.test((error as { code?: string }).code ?? '')) throw error;
    throw new UserError(
      'cannot_start',
      `Another Muted Pond already uses the folder ${dataDir}. Open that one, end it, or give this one a folder of its own: MUTED_POND_DATA=… npm start`,
    );
  }
  return { release: () => database.close() };
}
