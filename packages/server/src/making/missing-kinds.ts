import { UserError } from '@muted-pond/core/errors';
import { FILE_KIND_IDS, type FileKindId } from '@muted-pond/core/files';
import { assertEncoder } from '../encoding/index.js';
import { MAKERS } from './kinds/index.js';

/** Kinds of file that this machine cannot make, and what is missing for them. */
export async function missingKinds(): Promise<Partial<Record<FileKindId, string>>> {
  const missing: Partial<Record<FileKindId, string>> = {};
  for (const kind of FILE_KIND_IDS) {
    const { encoder } = MAKERS[kind];
    if (!encoder) continue;
    await assertEncoder(encoder).catch((error: unknown) => {
      missing[kind] = error instanceof UserError ? error.message : `${encoder} cannot be asked for.`;
    });
  }
  return missing;
}
