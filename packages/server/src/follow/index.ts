export { FollowModule } from './follow.module.js';
