import { measureSeen, type SeenTask } from '../making/index.js';
import { toldWorker } from '../threads/index.js';

export default toldWorker<SeenTask, number, number>(measureSeen);
