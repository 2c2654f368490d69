export { type SettledReel, type SettleTolerance, STRIP_ROWS, settle } from './settle.js';
