import { fileURLToPath } from 'node:url';
import type { DataSourceOptions } from 'typeorm';
import { Footage } from '../footage/footage.entity.js';
import { Piece } from '../pieces/piece.entity.js';
import { Trial } from '../trials/trial.entity.js';

/** SQLite with write-ahead log and foreign keys; the tables are made by migrations only. */
export function databaseOptions(file: string): DataSourceOptions {
  return {
    type: 'better-sqlite3',
    database: file,
    entities: [Footage, Piece, Trial],
    migrations: [fileURLToPath(new URL('./migrations/*.{ts,js}', import.meta.url))],
    migrationsRun: true,
    enableWAL: true,
  };
}
