export { type SettledReel, STRIP_ROWS, settle } from './settle.js';
