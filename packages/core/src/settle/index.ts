export { createSettleStrip, type SettledReel, STRIP_ROWS, type StripCrew, settle } from './settle.js';
export type { StripWork } from './strip-work.js';
