import { homedir } from 'node:os';
import { join } from 'node:path';
import Joi from 'joi';

/** Where things lie and how much is allowed; read once at the start. */
export interface Settings {
  readonly port: number;
  /** The address or name by which others on a network reach it; empty: only this machine does. */
  readonly host: string;
  /** Everything that is kept: database, blobs, cache, half uploads. */
  readonly dataDir: string;
  /** The built interface; empty in development. */
  readonly webDir: string;
  /** Footage to put on an empty shelf; empty for none. */
  readonly demoDir: string;
  /** Port of the practice host; 0 for any that is free, null for none. */
  readonly practicePort: number | null;
  /** Largest upload, bytes. */
  readonly mostUploadBytes: number;
}

export const SETTINGS = Symbol('settings');

const schema = Joi.object({
  MUTED_POND_PORT: Joi.number().integer().min(0).max(65535).default(4173),
  MUTED_POND_HOST: Joi.string().allow('').hostname().default(''),
  MUTED_POND_DATA: Joi.string().default(() => join(homedir(), '.muted-pond')),
  MUTED_POND_WEB: Joi.string().allow('').default(''),
  MUTED_POND_DEMO: Joi.string().allow('').default(''),
  MUTED_POND_PRACTICE_PORT: Joi.number().integer().min(0).max(65535).allow('').default(4174),
  MUTED_POND_MOST_UPLOAD: Joi.number()
    .integer()
    .min(1)
    .default(8 * 1024 ** 3),
}).unknown(true);

/** @throws Error naming every variable that is wrong. */
export function readSettings(environment: NodeJS.ProcessEnv): Settings {
  const { value, error } = schema.validate(environment, { abortEarly: false });
  if (error) throw new Error(`Settings: ${error.message}`);
  return {
    port: value.MUTED_POND_PORT,
    host: value.MUTED_POND_HOST,
    dataDir: value.MUTED_POND_DATA,
    webDir: value.MUTED_POND_WEB,
    demoDir: value.MUTED_POND_DEMO,
    practicePort: value.MUTED_POND_PRACTICE_PORT === '' ? null : value.MUTED_POND_PRACTICE_PORT,
    mostUploadBytes: value.MUTED_POND_MOST_UPLOAD,
  };
}

/** The folders below the data folder, each with one owner. */
export function dataFolders(dataDir: string) {
  return {
    database: join(dataDir, 'muted-pond.sqlite'),
    blobs: join(dataDir, 'blobs'),
    incoming: join(dataDir, 'incoming'),
    /** What nobody named, before it goes for good. */
    bin: join(dataDir, 'bin'),
    cache: join(dataDir, 'cache'),
    /** Uploads that broke off and may be taken up again. */
    uploads: join(dataDir, 'uploads'),
    /** Notes on uploads that became footage. */
    finishedUploads: join(dataDir, 'finished-uploads'),
    /** Copies that were asked for in the interface. */
    backups: join(dataDir, 'backups'),
    token: join(dataDir, 'token'),
    /** All of the practice host: tables, files, uploads. */
    practiceHost: join(dataDir, 'practice-host'),
  };
}
