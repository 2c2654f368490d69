import { join } from 'node:path';
import type { Limit } from '@muted-pond/core/recipe';

/** What the practice host is told when it is started. */
export interface HostSettings {
  /** A folder of its own; nothing else of the application lies in it. */
  readonly folder: string;
  /** The places it has now: what each takes. */
  readonly places: () => Promise<readonly Limit[]>;
  /** Called when something changed that others may show. */
  readonly onChange: () => void;
}

export const HOST_SETTINGS = Symbol('host settings');

/** The host’s own database, told apart from the editor’s. */
export const HOST_TABLES = 'practice-host';

export function hostFolders(folder: string) {
  return {
    database: join(folder, 'practice-host.sqlite'),
    files: join(folder, 'files'),
    uploads: join(folder, 'uploads'),
  };
}
