export { sentenceOf, USER_ERROR_CODES, UserError, type UserErrorCode, WENT_WRONG } from './user-error.js';
