import { measureSeen, type SeenTask } from '../making/index.js';
import { progressWorker } from '../threads/index.js';

export default progressWorker<SeenTask, number, number>(measureSeen);
