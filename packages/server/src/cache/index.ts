export { PictureCache } from './picture-cache.js';
