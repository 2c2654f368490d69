import type { UserErrorCode } from '../errors/index.js';
import type { FileKindId } from '../files/index.js';

/** Whether all is there that is needed. */
export interface HealthView {
  /** ffmpeg can be started. */
  readonly decoder: boolean;
  /** Kinds of file that cannot be made on this machine, and why. */
  readonly missingKinds: Partial<Readonly<Record<FileKindId, string>>>;
  /** Files that are kept though the library is empty, as after a lost database. */
  readonly unknownFiles: number;
}

/** Problem details (RFC 9457). */
export interface ProblemView {
  readonly status: number;
  readonly code: UserErrorCode;
  /** A sentence a person can act on. */
  readonly title: string;
}

/** What a backup holds. */
export interface BackupHolds {
  readonly pieces: number;
  readonly footage: number;
  readonly trials: number;
  /** Of the practice host. */
  readonly pages: number;
  /** All files, those of the databases too. */
  readonly files: number;
  readonly bytes: number;
}

/** A backup that was written. */
export interface BackupView {
  readonly folder: string;
  readonly holds: BackupHolds;
}
