export { FitModule } from './fit.module.js';
export { FIT_WORKER } from './fit.service.js';
