import { existsSync } from 'node:fs';
import { UserError } from '@muted-pond/core/errors';
import Database from 'better-sqlite3';

/**
 * Looks at the database before anything is done with it.
 * @param known names of the migrations that this version has.
 * @throws UserError when it is damaged, or of a later version: it is left as it is.
 */
export function checkDatabase(path: string, known: readonly string[]): void {
  if (!existsSync(path)) return;
  let names: string[];
  try {
    names = readMigrations(path);
  } catch (error) {
    if (!/SQLITE_(NOTADB|CORRUPT|IOERR|CANTOPEN)/.test((error as { code?: string }).code ?? '')) throw error;
    throw new UserError(
      'cannot_start',
      `The database ${path} is damaged and cannot be read. Put a backup in its place (npm run restore), or move it away: the files are kept, and can be brought back on the shelf.`,
    );
  }
  const later = names.filter((name) => !known.includes(name));
  if (later.length > 0) {
    throw new UserError(
      'cannot_start',
      `The data in ${path} were written by a later Muted Pond (${later[0]}). Update Muted Pond to open them; nothing was changed.`,
    );
  }
}

function readMigrations(path: string): string[] {
  const database = new Database(path, { fileMustExist: true });
  try {
    const damage = database.pragma('quick_check(1)', { simple: true });
    if (damage !== 'ok') throw Object.assign(new Error(String(damage)), { code: 'SQLITE_CORRUPT' });
    const hasTable = database
      .prepare("SELECT 1 FROM sqlite_master WHERE type = 'table' AND name = 'migrations'")
      .get();
    if (!hasTable) return [];
    return database.prepare('SELECT name FROM migrations').pluck().all() as string[];
  } finally {
    database.close();
  }
}
