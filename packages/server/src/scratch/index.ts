export { openScratch, removeScratch, scratchPath, sweepScratch } from './scratch.js';
