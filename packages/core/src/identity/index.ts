export { footageKey, footagePath, isOutdatedFootageKey, OF_FOOTAGE, type OfFootage } from './footage.js';
export { type Derivation, identityOf } from './identity.js';
