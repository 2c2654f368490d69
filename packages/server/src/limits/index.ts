export { LimitsModule } from './limits.module.js';
export { LimitsService } from './limits.service.js';
