export { type Derivation, identityOf } from './identity.js';
