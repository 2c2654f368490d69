import { existsSync } from 'node:fs';
import { rename } from 'node:fs/promises';
import { join, resolve } from 'node:path';
import { UserError } from '@muted-pond/core/errors';
import { dataFolders, readSettings } from '../settings.js';
import { backUp } from './backup.js';
import { lockFolder } from './lock.js';
import type { BackupManifest } from './manifest.js';
import { damagedIn, restore } from './restore.js';

/** `npm run backup -- FOLDER`, `npm run restore -- FOLDER`, `npm run check-data`. */
const commands: Record<string, (dataDir: string, folder: string) => Promise<void>> = {
  async backup(dataDir, folder) {
    const manifest = await backUp(dataDir, folder);
    console.log(`A copy of ${dataDir} lies in ${folder}. ${holdsWords(manifest)}`);
  },
  async restore(dataDir, folder) {
    // The folder itself is put aside, so the lock is only looked at.
    if (existsSync(dataDir)) lockFolder(dataDir).release();
    const { manifest, before } = await restore(folder, dataDir);
    const aside = before ? ` What was there before lies in ${before}.` : '';
    console.log(`${dataDir} is as it was in ${folder}. ${holdsWords(manifest)}${aside}`);
  },
  async 'check-data'(dataDir) {
    const { blobs, bin } = dataFolders(dataDir);
    const damaged = await damagedIn(blobs);
    for (const hash of damaged) {
      // Out of the way, so that it is told as missing, and taken anew when the same file is brought in.
      await rename(join(blobs, hash.slice(0, 2), hash), join(bin, `${hash}.damaged`));
      console.log(`${hash} is damaged. It was put into the bin; bring the same file in again.`);
    }
    console.log(damaged.length === 0 ? 'Every file is whole.' : `${damaged.length} files are damaged.`);
    if (damaged.length > 0) process.exitCode = 1;
  },
};

function holdsWords({ files, holds }: BackupManifest): string {
  if (!holds) return `It holds the database and ${files} files.`;
  const { pieces, footage, trials, pages, bytes } = holds;
  return `It holds ${pieces} pieces, ${footage} files of footage, ${trials} trials and ${pages} pages of the practice host: ${(bytes / 1e6).toFixed(1)} MB.`;
}

const [name, folder] = process.argv.slice(2);
const run = commands[name ?? ''];
try {
  if (!run || (name !== 'check-data' && !folder)) {
    throw new UserError(
      'cannot_start',
      'Use: npm run backup -- FOLDER, npm run restore -- FOLDER, or npm run check-data.',
    );
  }
  await run(resolve(readSettings(process.env).dataDir), folder ? resolve(folder) : '');
} catch (error) {
  console.error(error instanceof UserError ? error.message : `It did not work: ${(error as Error).message}`);
  process.exitCode = 1;
}
