export { FitModule } from './fit.module.js';
