import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import type { BackupHolds } from '@muted-pond/core/api';
import { UserError } from '@muted-pond/core/errors';
import Joi from 'joi';

/** What a backup says of itself. */
export interface BackupManifest {
  /** ISO 8601. */
  readonly createdAt: string;
  /** Kept files below `blobs`. */
  readonly files: number;
  /** Null in those of versions that did not say. */
  readonly holds: BackupHolds | null;
}

export const MANIFEST = 'backup.json';
/** A list in the form of sha256sum(1): hash, two blanks, path below the backup. Every file but this one. */
export const INDEX = 'SHA256SUMS';

const count = Joi.number().integer().min(0).required();

const schema = Joi.object<BackupManifest>({
  createdAt: Joi.string().isoDate().required(),
  files: count,
  holds: Joi.object({
    pieces: count,
    footage: count,
    trials: count,
    pages: count,
    files: count,
    bytes: count,
  })
    .allow(null)
    .default(null),
});

/** @throws UserError where the folder is no backup. */
export async function readManifest(backup: string): Promise<BackupManifest> {
  const text = await readFile(join(backup, MANIFEST), 'utf8').catch(() => {
    throw new UserError(
      'cannot_start',
      `${backup} is no backup of Muted Pond: it holds no ${MANIFEST}. Name another folder.`,
    );
  });
  const { value, error } = schema.required().validate(parse(text));
  if (!error) return value;
  throw new UserError(
    'cannot_start',
    `The backup ${backup} cannot be used: its ${MANIFEST} is damaged (${error.message}). Take another one; nothing was changed.`,
  );
}

function parse(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    return undefined;
  }
}

/**
 * The paths and hashes of an index; null where the backup is of a version without one.
 * @throws UserError where it is not as it was written.
 */
export async function readIndex(
  backup: string,
  { holds }: BackupManifest,
): Promise<ReadonlyMap<string, string> | null> {
  const text = await readFile(join(backup, INDEX), 'utf8').catch(() => null);
  if (text === null && holds === null) return null;
  const lines = (text ?? '').split('\n').map((line) => /^([0-9a-f]{64}) {2}([\w./-]+)$/.exec(line));
  const index = new Map(lines.flatMap((found) => (found ? [[found[2], found[1]]] : [])));
  // The list names the manifest beside what the manifest counts.
  if (text === writeIndex(index) && holds !== null && index.size === holds.files + 1) return index;
  throw new UserError(
    'cannot_start',
    `The backup ${backup} is not whole: its list ${INDEX} is ${text === null ? 'missing' : 'damaged'}. Take another one; nothing was changed.`,
  );
}

export function writeIndex(entries: ReadonlyMap<string, string>): string {
  return [...entries].map(([path, hash]) => `${hash}  ${path}\n`).join('');
}
