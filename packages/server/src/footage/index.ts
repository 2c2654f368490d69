export { cleanName } from './clean-name.js';
export { Footage } from './footage.entity.js';
export { FootageModule } from './footage.module.js';
export { FootageService } from './footage.service.js';
