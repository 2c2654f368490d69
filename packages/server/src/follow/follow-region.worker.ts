import { progressWorker } from '../threads/index.js';
import { type Followed, type FollowTask, followRegion } from './follow-region.js';

export default progressWorker<FollowTask, number, Followed>(followRegion);
