export { LayersModule } from './layers.module.js';
export { LayersService } from './layers.service.js';
