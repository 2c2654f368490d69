import { existsSync } from 'node:fs';
import { rename } from 'node:fs/promises';
import { join, resolve } from 'node:path';
import { UserError } from '@muted-pond/core/errors';
import { Command, CommanderError } from 'commander';
import { endWhenNobodyReads } from '../closed-pipe.js';
import { dataFolders, readSettings } from '../settings.js';
import { backUp } from './backup.js';
import { lockFolder } from './lock.js';
import type { BackupManifest } from './manifest.js';
import { damagedIn, restore } from './restore.js';

const dataDir = () => resolve(readSettings(process.env).dataDir);

const program = new Command('npm run')
  .description('The data folder of `npm start`, or the one that MUTED_POND_DATA names.')
  .exitOverride()
  .configureOutput({ writeErr: () => {} });

program
  .command('backup')
  .usage('-- <folder>')
  .argument('<folder>', 'where the copy goes; it must not exist')
  .description('Copies everything, also while the server runs.')
  .addHelpText('after', '\nExample:\n  npm run backup -- ~/copies/monday')
  .action(async (folder: string) => {
    const manifest = await backUp(dataDir(), resolve(folder));
    console.log(`A copy of ${dataDir()} lies in ${resolve(folder)}. ${holdsWords(manifest)}`);
  });

program
  .command('restore')
  .usage('-- <folder>')
  .argument('<folder>', 'a backup')
  .description('Checks a backup and brings it back. What was there before is put aside beside it.')
  .addHelpText('after', '\nExample:\n  npm run restore -- ~/copies/monday')
  .action(async (folder: string) => {
    // The folder itself is put aside, so the lock is only looked at.
    if (existsSync(dataDir())) lockFolder(dataDir()).release();
    const { manifest, before } = await restore(resolve(folder), dataDir());
    const aside = before ? ` What was there before lies in ${before}.` : '';
    console.log(`${dataDir()} is as it was in ${resolve(folder)}. ${holdsWords(manifest)}${aside}`);
  });

program
  .command('check-data')
  .usage('')
  .description('Holds every kept file against its name; damaged ones go into the bin.')
  .addHelpText('after', '\nExample:\n  npm run check-data')
  .action(async () => {
    const { blobs, bin } = dataFolders(dataDir());
    const damaged = await damagedIn(blobs);
    for (const hash of damaged) {
      // Out of the way, so that it is told as missing, and taken anew when the same file is brought in.
      await rename(join(blobs, hash.slice(0, 2), hash), join(bin, `${hash}.damaged`));
      console.log(`${hash} is damaged. It was put into the bin; bring the same file in again.`);
    }
    console.log(damaged.length === 0 ? 'Every file is whole.' : `${damaged.length} files are damaged.`);
    if (damaged.length > 0) process.exitCode = 1;
  });

function holdsWords({ files, holds }: BackupManifest): string {
  if (!holds) return `It holds the database and ${files} files.`;
  const { pieces, footage, trials, pages, bytes } = holds;
  return `It holds ${pieces} pieces, ${footage} files of footage, ${trials} trials and ${pages} pages of the practice host: ${(bytes / 1e6).toFixed(1)} MB.`;
}

endWhenNobodyReads();
try {
  await program.parseAsync();
} catch (error) {
  if (error instanceof CommanderError) {
    if (error.exitCode !== 0) {
      console.error('Use: npm run backup -- FOLDER, npm run restore -- FOLDER, or npm run check-data.');
      process.exitCode = 1;
    }
  } else {
    console.error(
      error instanceof UserError ? error.message : `It did not work: ${(error as Error).message}`,
    );
    process.exitCode = 1;
  }
}
