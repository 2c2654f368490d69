export { accessGate, securityHeaders } from './gate.js';
export { type AccessRules, type Approach, accessRules, isApiPath, refusalOf } from './rules.js';
export { readToken } from './token.js';
