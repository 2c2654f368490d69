import { UserError } from '@muted-pond/core/errors';

export function isDiskFull(error: unknown): boolean {
  const code = (error as { code?: string } | null)?.code;
  return code === 'ENOSPC' || code === 'EDQUOT' || code === 'SQLITE_FULL';
}

/** What a person is told of it. */
export function diskFull(): UserError {
  return new UserError(
    'disk_full',
    'The disk is full. Free some space and try again; nothing half-done was kept.',
  );
}
