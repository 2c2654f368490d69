import { type Followed, type FollowTask, followRegion } from '../making/index.js';
import { progressWorker } from '../threads/index.js';

export default progressWorker<FollowTask, number, Followed>(followRegion);
