export { WeavingModule } from './weaving.module.js';
