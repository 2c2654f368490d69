export { warmUp as default } from './warm-up.js';
