import { UserError } from '@muted-pond/core/errors';
import { isDiskFull } from './disk-full.js';

const NOT_WRITABLE = /^(EACCES|EPERM|EROFS|ENOTDIR|EEXIST|SQLITE_READONLY.*|SQLITE_CANTOPEN.*)$/;

/**
 * Why the server could not start, in a sentence; what nobody foresaw with its stack.
 * @param dataDir the data folder that was asked for, if one was.
 */
export function startProblem(error: NodeJS.ErrnoException, dataDir: string | undefined): string {
  if (error instanceof UserError) return error.message;
  if (error.code === 'EADDRINUSE') {
    return 'Another program already answers at this address. End it, or choose another port: MUTED_POND_PORT=4180 npm start';
  }
  if (isDiskFull(error)) return 'The disk is full. Free some space and start again.';
  if (NOT_WRITABLE.test(error.code ?? '')) {
    return `The data folder cannot be written to (${error.path ?? dataDir ?? error.message}). Make it writable, or choose another one: MUTED_POND_DATA=… npm start`;
  }
  return `Muted Pond could not start: ${error.stack ?? error.message}`;
}
