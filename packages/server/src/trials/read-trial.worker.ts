import { picturesOf } from '../making/index.js';
import { progressWorker } from '../threads/index.js';

export default progressWorker(picturesOf);
