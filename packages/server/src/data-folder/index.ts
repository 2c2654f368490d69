export { backUp } from './backup.js';
export { checkDatabase } from './check-database.js';
export { type FolderLock, lockFolder } from './lock.js';
export type { BackupManifest } from './manifest.js';
export { damagedIn, restore } from './restore.js';
