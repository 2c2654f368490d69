export { backUp, damagedIn, restore } from './backup.js';
export { checkDatabase } from './check-database.js';
export { type FolderLock, lockFolder } from './lock.js';
