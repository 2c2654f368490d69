import type { HoldingFigures } from '@muted-pond/core/api';
import { type MakingTask, measureHolding } from '../making/index.js';
import { progressWorker } from '../threads/index.js';

export default progressWorker<MakingTask, number, HoldingFigures>(measureHolding);
