export { diskFull, isDiskFull } from './disk-full.js';
export { PictureCache } from './picture-cache.js';
