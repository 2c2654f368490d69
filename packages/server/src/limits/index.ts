export { LimitsModule } from './limits.module.js';
