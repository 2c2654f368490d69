export { databaseOptions, MIGRATION_NAMES } from './options.js';
