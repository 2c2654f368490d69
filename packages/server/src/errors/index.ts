export { MediaError, type MediaErrorCode } from './media-error.js';
