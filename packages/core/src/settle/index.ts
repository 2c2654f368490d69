export { CLEAR_BELOW } from './clear.js';
export { type FirstLook, type Looked, startLook } from './first-look.js';
export { CHROMA_SHARES, chromaClassOf, type Masking } from './masking.js';
export { type SettledReel, STRIP_ROWS, settle, startSettling } from './settle.js';
export { showSettled } from './show-settled.js';
export type { StripWork } from './strip-work.js';
export { visitStarts } from './visit-starts.js';
