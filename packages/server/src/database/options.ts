import type { DataSourceOptions } from 'typeorm';
import { Footage } from '../footage/footage.entity.js';
import { Job } from '../jobs/job.entity.js';
import { DestinationLimit } from '../limits/limit.entity.js';
import { Piece } from '../pieces/piece.entity.js';
import { Trial } from '../trials/trial.entity.js';
import { Begin1795568196791 } from './migrations/1795568196791-Begin.js';
import { FactsOfEveryKind1795575600000 } from './migrations/1795575600000-FactsOfEveryKind.js';
import { LimitsAndPins1795608000000 } from './migrations/1795608000000-LimitsAndPins.js';
import { SeenLikeness1795752000000 } from './migrations/1795752000000-SeenLikeness.js';
import { Jobs1795766400000 } from './migrations/1795766400000-Jobs.js';
import { AboutPieces1795780800000 } from './migrations/1795780800000-AboutPieces.js';
import { KindsOfLimits1795784400000 } from './migrations/1795784400000-KindsOfLimits.js';
import { UniqueTrials1795900000000 } from './migrations/1795900000000-UniqueTrials.js';
import { KeysOfJobs1796100000000 } from './migrations/1796100000000-KeysOfJobs.js';

/** In the order in which they are run. Append only. */
const MIGRATIONS = [
  Begin1795568196791,
  FactsOfEveryKind1795575600000,
  LimitsAndPins1795608000000,
  SeenLikeness1795752000000,
  Jobs1795766400000,
  AboutPieces1795780800000,
  KindsOfLimits1795784400000,
  UniqueTrials1795900000000,
  KeysOfJobs1796100000000,
];

export const MIGRATION_NAMES: readonly string[] = MIGRATIONS.map(({ name }) => name);

/** SQLite with write-ahead log and foreign keys; the tables are made by migrations only. */
export function databaseOptions(file: string): DataSourceOptions {
  return {
    type: 'better-sqlite3',
    database: file,
    entities: [Footage, Piece, Trial, DestinationLimit, Job],
    migrations: MIGRATIONS,
    migrationsRun: true,
    enableWAL: true,
  };
}
