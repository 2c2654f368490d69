export { HoldingModule } from './holding.module.js';
