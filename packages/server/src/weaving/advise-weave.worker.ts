import type { WeaveAdvice } from '@muted-pond/core/api';
import { adviseWeave, type WeaveAdviceTask } from '../making/index.js';
import { progressWorker } from '../threads/index.js';

export default progressWorker<WeaveAdviceTask, number, WeaveAdvice | null>(adviseWeave);
