export { PracticeHostModule } from './practice-host.module.js';
export { HOST_MIGRATION_NAMES, hostFolders } from './site/index.js';
