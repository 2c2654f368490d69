export { warmLayerReader } from './keep-apart.js';
export { LAYER_KEEPERS } from './keep-layer.js';
export { LayersModule } from './layers.module.js';
export { LayersService } from './layers.service.js';
